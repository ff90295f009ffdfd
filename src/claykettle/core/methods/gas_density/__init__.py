"""A gas weighed in a flask: its molar mass from its density, the air that it displaced put back."""
