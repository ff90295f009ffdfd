"""Judgements on readings and results, each with its reason in one sentence."""
