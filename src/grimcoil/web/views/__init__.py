"""What a template needs, worked out from what a service answered."""
