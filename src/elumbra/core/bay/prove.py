"""Whether a condition can ever hold: all situations at once, by a solver."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ortools.sat.python import cp_model

from elumbra.core.bay.conditions import Condition, Situation, Word
from elumbra.core.bay.rules import Break, Rule, Steps


@dataclass(frozen=True)
class Counterexample:
    """A situation in which a rule is broken."""

    words: str
    situation: Situation


class UnprovenError(Exception):
    """The solver gave up; nothing is proven."""


@dataclass
class _Model:
    known: Mapping[str, Sequence[str]]
    model: cp_model.CpModel = field(default_factory=cp_model.CpModel)
    literals: dict[tuple[str, str], cp_model.IntVar] = field(default_factory=dict)
    made: dict[Condition, cp_model.LiteralT] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for name, values in self.known.items():
            row = [self.model.new_bool_var(f"{name}={value}") for value in values]
            self.literals |= {(name, value): one for value, one in zip(values, row, strict=True)}
            self.model.add_exactly_one(row)

    def of(self, condition: Condition) -> cp_model.LiteralT:
        """A literal that is true just where the condition holds."""
        if condition not in self.made:
            self.made[condition] = self._make(condition)
        return self.made[condition]

    def _make(self, condition: Condition) -> cp_model.LiteralT:
        if condition.word is Word.NOT:
            return ~self.of(condition.parts[0])
        if condition.word is Word.IS:
            parts: list[cp_model.LiteralT] = [self.literals[condition.fact, v] for v in sorted(condition.values)]
            if len(parts) == 1:
                return parts[0]
        else:
            parts = [self.of(part) for part in condition.parts]
        both = condition.word is Word.ALL
        whole = self.model.new_bool_var("")
        if both:
            self.model.add_bool_and(parts).only_enforce_if(whole)
            self.model.add_bool_or([*(~one for one in parts), whole])
        else:
            self.model.add_bool_or([*parts, ~whole])
            for one in parts:
                self.model.add_implication(one, whole)
        return whole


def counterexample(rule: Rule, steps: Steps, known: Mapping[str, Sequence[str]]) -> Counterexample | None:
    """A situation in which a rule is broken; None where none can be.

    Raises
    ------
    UnprovenError
        The solver did not decide.
    """
    breaks = list(rule.breaks(steps))
    found = satisfying(breaks, known)
    if found is None:
        return None
    words = next((one.words for one in breaks if one.when.holds(found)), rule.name)
    return Counterexample(f"{rule.name}: {words}", found)


def satisfying(breaks: Sequence[Break], known: Mapping[str, Sequence[str]]) -> Situation | None:
    """A situation in which one of them holds; None where that is infeasible."""
    whole = _Model(known)
    whole.model.add_bool_or([whole.of(one.when) for one in breaks])
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = 30
    status = solver.solve(whole.model)
    if status == cp_model.INFEASIBLE:
        return None
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        raise UnprovenError(f"The solver ended with {solver.status_name(status)}: nothing is proven.")
    return {name: next(v for v in values if solver.value(whole.literals[name, v])) for name, values in known.items()}
