"""What glass is made of is read off its mark: a type that only the body list said becomes *not read yet*.

Windshields stay laminated, and plastic stays plastic. What somebody touched, what is being worked on and jobs that are
done with stay as they are.
"""

from __future__ import annotations

from alembic import op

revision = "2026_12_04_marks_not_read"
down_revision = "2026_12_03_exemptions"
branch_labels = None
depends_on = None

# Nobody set it, no work on it is on record, its car is still to come or here, and the list gave it.
_UNREAD = """
    CREATE TEMPORARY TABLE not_read AS SELECT id, version, job_id FROM window
    WHERE removed = 0
      AND json_extract(facts, '$.glass_type') = 'tempered'
      AND job_id IN (
        SELECT id FROM job WHERE body NOT IN ('', 'imported') AND status NOT IN ('delivered', 'cancelled', 'no_show')
      )
      AND NOT EXISTS (
        SELECT 1 FROM audit
        WHERE audit.record_kind = 'window' AND audit.record_id = window.id AND audit.action <> 'created'
          AND json_type(audit.changes, '$.glass_type') IS NOT NULL
      )
      AND NOT EXISTS (SELECT 1 FROM step_event WHERE step_event.window_id = window.id)
"""
_TOLD = """
    INSERT INTO audit (at, person_id, action, record_kind, record_id, record_version, job_id, changes)
    SELECT strftime('%Y-%m-%d %H:%M:%S.000000', 'now'), 'upgrade', 'mark not read', 'window', id, version, job_id,
           json_object('glass_type', json_array('tempered', 'unknown'))
    FROM not_read
"""


def upgrade() -> None:
    op.execute(_UNREAD)
    op.execute("UPDATE job SET stamp = stamp + 1 WHERE id IN (SELECT job_id FROM not_read)")
    op.execute(
        "UPDATE window SET facts = json_set(facts, '$.glass_type', 'unknown') WHERE id IN (SELECT id FROM not_read)"
    )
    op.execute(_TOLD)
    op.execute("DROP TABLE not_read")
