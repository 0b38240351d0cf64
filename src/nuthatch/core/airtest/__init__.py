"""The air test: readings of fan and gauge, what they give by ISO 9972, and whether the test holds."""
