"""The one solver process: takes layouts from the queue and works them out, outside the web workers."""

from elumbra.solver.runner import SolverRunner

__all__ = ["SolverRunner"]
