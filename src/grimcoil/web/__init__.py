"""Pages over HTTP: routers, forms, templates. Reads and writes only through services."""
