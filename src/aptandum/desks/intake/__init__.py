"""A simulated desk: a receiving body's web intake, as a process of its own on this machine.

It reads its limits from the body's rulebook, and pictures with a decoder and measures of its own;
nothing here asks how Aptandum reads or judges a picture. So what it says is a second opinion.
"""
