"""The finish route a print goes through."""

# The finish route of a print is that of its set, else of its calibration, else of the test its plate is for.
ROUTE_OF_PRINT = """coalesce(
  (SELECT s.finish_route_version_id FROM parameter_set s WHERE s.id = p.parameter_set_id),
  (SELECT c.finish_route_version_id FROM arm a JOIN calibration c ON c.id = a.calibration_id WHERE a.id = p.arm_id),
  (SELECT g.finish_route_version_id FROM plate l JOIN specimen e ON e.plate_id = l.id
    JOIN test_group g ON g.id = e.group_id WHERE l.print_id = p.id LIMIT 1))"""
