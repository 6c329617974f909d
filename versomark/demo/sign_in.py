"""How one signs in to the demo school; `./verso demo` prints the same."""

SCHOOL, NAME, USERNAME, PASSWORD = "Kestrel Bay School", "O. Brandt", "brandt", "kestrel-bay"
