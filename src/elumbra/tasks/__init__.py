"""Long work, each kind a module, done in a process of its own outside the web workers."""

from elumbra.tasks.plan import final_plan, plan_job_file
from elumbra.tasks.runner import TaskRunner

__all__ = ["TaskRunner", "final_plan", "plan_job_file"]
