"""Formulas, units and chemistry in the words of a question: read once, for paper, documents and other programs."""
