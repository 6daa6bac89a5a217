"""Who is acting."""
