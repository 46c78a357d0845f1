"""The sizing stage: bars for the whole building, and the rules by which they are proposed."""
