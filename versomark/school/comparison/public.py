"""Comparisons of answers in pairs. Nothing later in the job needs anything of them yet."""
