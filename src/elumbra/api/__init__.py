"""The JSON API and the server of the built front end."""
