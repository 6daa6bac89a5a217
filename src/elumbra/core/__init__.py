"""The rules of the job and all computation.

Pure: no Flask, no database, no clock, no files. Lengths are millimetres, light and money
shares are fractions of 1, temperatures degrees Celsius, times minutes unless a suffix says
otherwise.
"""
