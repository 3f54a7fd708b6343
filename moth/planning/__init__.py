"""A set-up as work: what is packed, powered, rigged and paid for it, and the order of a day."""
