"""Open formats, one file each: the boat file (JSON) and STL meshes."""
