"""The conformity report: what was made, by which rules, and how it was measured; on one page of
HTML or in a PDF."""

from aptandum.core.report.entry import Entry, Report, entry_of, renamed
from aptandum.core.report.written import write_report

__all__ = ["Entry", "Report", "entry_of", "renamed", "write_report"]
