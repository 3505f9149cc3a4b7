"""Handing over: the client, its book, and desks that are simulated on this machine.

A desk is a web intake. What is said between the two is in ``docs/desk.md``; nothing in it belongs
to Aptandum alone.
"""
