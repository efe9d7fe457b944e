"""Open formats, one file each: the boat file (JSON, ZIP with meshes), meshes, lines, tables of offsets."""
