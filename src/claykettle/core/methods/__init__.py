"""The methods of the trade, one module each; `registry` finds them."""
