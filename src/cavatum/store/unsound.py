"""What a broken zip file makes Python's zipfile and its decompressors raise. Never: which files are taken."""

import lzma
import struct
import zipfile
import zlib

# RuntimeError: it says that it is encrypted, or (as NotImplementedError) made for a newer kind of zip.
# OSError: what bzip2 says of a broken stream, where a flipped bit names that way of packing.
UNSOUND_ZIP = (
    ValueError,
    RuntimeError,
    EOFError,
    OSError,
    struct.error,
    zlib.error,
    lzma.LZMAError,
    zipfile.BadZipFile,
)
