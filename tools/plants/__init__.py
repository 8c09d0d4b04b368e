"""Plants that know their own fault: what the walk is judged by. Nothing here asks the walk's tables or its guard."""
