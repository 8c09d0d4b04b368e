"""Tables, queries and migrations. The only room that speaks SQL."""
