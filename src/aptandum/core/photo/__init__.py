"""A supplied file: what its header says, how its pixels are read, what its profile is."""

import warnings

# What Pillow mutters about damaged metadata, and about large pictures (see ``limits``), is told in sentences of our
# own where it matters.
warnings.filterwarnings("ignore", module=r"PIL\..*")
