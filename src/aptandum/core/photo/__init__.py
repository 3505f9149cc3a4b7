"""A supplied file: what its header says, how its pixels are read, what its profile is."""

import warnings

from PIL import Image, PngImagePlugin

from aptandum.core import bounds

# Every file is measured against our limits before a pixel is asked for (see ``limits`` and ``walk``). Pillow's own
# guard stands behind them: it refuses at twice what it is given, and warns before.
Image.MAX_IMAGE_PIXELS = bounds.current().pixels // 2
warnings.simplefilter("ignore", Image.DecompressionBombWarning)
PngImagePlugin.MAX_TEXT_MEMORY = 8 << 20  # bytes of all texts of a PNG, unpacked

# What Pillow mutters about damaged metadata is told in sentences of our own where it matters.
warnings.filterwarnings("ignore", module=r"PIL\..*")
