"""The people of the shop, their hours and skills, and the devices they work on."""
