"""What a broken zip file makes Python's zipfile and its decompressor raise. Never: which files are taken."""

import struct
import zipfile
import zlib

# RuntimeError: it says that it is encrypted, or (as NotImplementedError) made for a newer kind of zip
UNSOUND_ZIP = (ValueError, RuntimeError, EOFError, struct.error, zlib.error, zipfile.BadZipFile)
