"""The walls stage: elevations, a plan at a level, openings, panels and bearing walls."""
