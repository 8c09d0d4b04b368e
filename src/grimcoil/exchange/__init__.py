"""One module per open format: text in, records out, and back. Pydantic models live here."""
