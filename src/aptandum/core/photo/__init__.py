"""A supplied file: what its header says, how its pixels are read, what its profile is."""

import warnings

from PIL import Image

# Pillow's own guard would stop at a fixed size with an exception or a warning; every file is
# measured against our limits before a pixel is asked for (see ``limits``), which are lower
# for hostile sizes and higher for honest large photos.
Image.MAX_IMAGE_PIXELS = None

# What Pillow mutters about damaged metadata is told in sentences of our own where it matters.
warnings.filterwarnings("ignore", module=r"PIL\..*")
