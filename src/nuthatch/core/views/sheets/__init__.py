"""Lists of parts as data: one sheet each, made once, shown by the boards and written in every format."""
