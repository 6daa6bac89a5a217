"""SQLite through SQLAlchemy: tables, migrations, stores, and loading of data files.

Rows stay in here: what leaves is a frozen record.
"""
