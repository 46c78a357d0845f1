"""EN 1992-1-1:2004+A1, with the data of its national annexes."""
