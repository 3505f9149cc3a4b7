"""The board: photos down, briefs across, each fitting a cell."""
