"""What several methods declare or judge alike, and judgements that name readings."""
