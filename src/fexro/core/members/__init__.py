"""What a lift is, all its checks at once, and the verdict."""
