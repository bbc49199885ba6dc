"""What all tests share."""

import os

from hypothesis import settings

# every call of a kernel checks its arguments; the servers of the pages run as they are shipped
os.environ.setdefault("KESSEL_CHECKED", "1")

# no test times: a busy machine is no fault
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
