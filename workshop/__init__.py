"""The Django project: what a workshop keeps, and the API over it."""
