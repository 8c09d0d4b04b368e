"""Form bodies as Pydantic models; unknown fields are refused."""
