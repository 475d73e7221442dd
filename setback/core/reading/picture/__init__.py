"""Reading a picture of a coupon: found, laid straight, and every mark told with how sure it is.

Only :mod:`.contract` is light; the others bring the imaging libraries with them and are imported where a picture is read.
"""
