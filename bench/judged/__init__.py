"""Set-ups made to be right and made to be wrong, and what is read in their pictures."""
