"""A folder that is watched: what arrives whole is conformed and proved, each content once."""

from aptandum.core.watched.book import BookTaken, WatchBook
from aptandum.core.watched.watcher import Event, Want, Watcher

__all__ = ["BookTaken", "Event", "Want", "WatchBook", "Watcher"]
