"""A reader's bias that a gauge study has shown, taken off what they measure because somebody asked for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import Field

from ...core.contract import Notice
from ...core.reading.size import SAME_MM, without_bias
from ...core.reading.tally import ReadFeature
from ...store.reading import gauge_studies as store
from ...store.reading import pictures
from ..unit_of_work import UnitOfWork, View

PICTURE_READER = "picture reader"


class CorrectionView(View):
    """A bias that is taken off a reader's sizes."""

    id: str
    reader: str
    study: str
    bias_um: float = Field(description="What is taken off the growth of each edge, µm")
    begun_at: str
    begun_by: str


def corrections(work: UnitOfWork) -> list[CorrectionView]:
    """Those that hold now."""
    return [
        CorrectionView(
            id=row.id,
            reader=row.initials or PICTURE_READER,
            study=row.study,
            bias_um=row.bias_um,
            begun_at=row.begun_at,
            begun_by=row.begun_by,
        )
        for row in store.corrections(work.db)
    ]


@dataclass(frozen=True)
class Correcting:
    """Corrections that hold, laid on the sizes of some readings."""

    of_people: dict[str, store.Correction]
    of_picture_reader: store.Correction | None
    by_picture: dict[tuple[str, str], float]
    """Sizes the picture reader told, by reading and feature: what a person changed is the person's."""

    def of(self, technician_id: str | None, reading_id: str, feature: ReadFeature) -> store.Correction | None:
        """The correction that a size is read with; None without one."""
        if feature.measured_mm is None or feature.kind not in ("outer", "inner"):
            return None
        told_mm = self.by_picture.get((reading_id, feature.key))
        if told_mm is not None and abs(told_mm - feature.measured_mm) <= SAME_MM:
            return self.of_picture_reader
        return self.of_people.get(technician_id or "")

    def corrected(
        self, technician_id: str | None, reading_id: str, features: Sequence[ReadFeature]
    ) -> tuple[list[ReadFeature], frozenset[str]]:
        """Features without their readers' biases, and what is said of that."""
        answers, notes = [], set()
        for feature in features:
            correction = self.of(technician_id, reading_id, feature)
            if correction is not None and feature.measured_mm is not None:
                size_mm = without_bias(feature.kind, feature.measured_mm, correction.bias_um)
                feature = feature.model_copy(update={"measured_mm": size_mm})
                notes.add(
                    f"Sizes by {correction.initials or 'the picture reader'} are corrected for {correction.bias_um:+.1f} µm "
                    f"of edge growth, the bias shown by gauge study {correction.study}."
                )
            answers.append(feature)
        return answers, frozenset(notes)


def correcting(work: UnitOfWork, reading_ids: list[str]) -> Correcting:
    """What holds for some readings; two queries at most."""
    rows = store.corrections(work.db)
    of_people = {row.technician_id: row for row in rows if row.technician_id is not None}
    of_picture_reader = next((row for row in rows if row.technician_id is None), None)
    told = pictures.sizes_confirmed(work.db, reading_ids) if rows else []
    return Correcting(
        of_people, of_picture_reader, {(size.reading_id, size.feature_key): size.size_mm for size in told}
    )


def correction_notices(notes: Sequence[frozenset[str]]) -> list[Notice]:
    """What is said of a window in which sizes were corrected."""
    return [Notice(code="bias-corrected", message=note) for note in sorted(frozenset().union(*notes))]
