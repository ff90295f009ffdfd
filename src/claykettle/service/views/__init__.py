"""What a use case answers with, and so the shape of the API; made of records, knows no use case."""
