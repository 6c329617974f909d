#!/usr/bin/env python
import os
import sys

from django.core.management import execute_from_command_line

# What a command makes is for the account of the service alone.
os.umask(0o077)
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "versomark.site.settings")
# Processes that a command starts to read scans look into this file again, and are not to carry the command out anew.
if __name__ == "__main__":
    execute_from_command_line(sys.argv)
