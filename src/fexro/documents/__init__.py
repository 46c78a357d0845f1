"""What leaves the office: calculation, schedules, drawings, bar list, building model."""
