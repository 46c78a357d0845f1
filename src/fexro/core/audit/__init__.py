"""A second opinion: the same strength by fibres, sharing no integration with the engine."""
