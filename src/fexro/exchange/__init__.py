"""Reading and writing other formats."""
