"""Properties are judged by what they find, not by how busy the machine is."""

from hypothesis import settings

settings.register_profile("elumbra", deadline=None, print_blob=True)
settings.load_profile("elumbra")
