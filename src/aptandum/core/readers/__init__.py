"""Processes that read strangers' bytes and can do nothing else.

A reader is started with a module of *acts*, imports what they need, and then gives up whatever it does not
(:mod:`lockdown`): files, the network, new processes, most memory. The application opens a file and hands its
descriptor over; the reader answers in JSON, which is data and nothing else, and puts pixels into memory that the
application made (:mod:`shared`). A reader that dies, hangs or asks for too much costs one sentence about one file;
another takes its place.

The application's side knows nothing of pictures, and the acts know nothing of processes::

    answer = pool.shared().ask(Wish("facts", {"items": [[name, size]]}, [descriptor]))

Nothing is imported here: a reader starts with what it needs.
"""
