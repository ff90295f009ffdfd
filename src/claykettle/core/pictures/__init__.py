"""What a trial is drawn as: data only; methods fill it, the page draws it."""
