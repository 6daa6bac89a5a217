"""The day sheet: the plan of a day, promises, bookings, decisions by hand, calendar and print."""
