"""The places where a finished picture is seen: what they load, refuse, and make of it."""
