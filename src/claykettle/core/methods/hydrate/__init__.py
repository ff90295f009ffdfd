"""Water of a hydrate: weigh, heat, cool, weigh until constant; percent water, ratio and formula."""
