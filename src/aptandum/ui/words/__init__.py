"""Rules in words: where they are typed, what they became, whose they are."""
