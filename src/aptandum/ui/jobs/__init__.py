"""Work beside the interface, of three kinds.

* *Latest*: what is shown. The newest of its kind wins; an older one is told to stop, and its result
  is dropped.
* *Command*: what a person asked for. In order, never dropped, each with its own words, count, time
  left, Cancel and outcome.
* *Journal*: what must be on the disk: the crash record and the desk's book. A thread of its own,
  in order, never behind anything else.
"""

from aptandum.ui.jobs.command import Command, Progress
from aptandum.ui.jobs.jobs import Jobs
from aptandum.ui.jobs.journal import Journal
from aptandum.ui.jobs.service import Service

__all__ = ["Command", "Jobs", "Journal", "Progress", "Service"]
