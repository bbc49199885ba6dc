"""What all tests share."""

from hypothesis import settings

# no test times: a busy machine is no fault
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
