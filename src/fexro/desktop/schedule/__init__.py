"""The schedule: storeys down, marks across, every lift drawn with its answer."""
