"""One daily email a day to whoever wants it: what is due, what is worrying, what runs out."""
