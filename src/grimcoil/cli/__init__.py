"""The command line, one module per command: `bin/grimcoil COMMAND …`."""
