import type { DayCar } from "./api";

/** Cars that are cut together unless somebody says otherwise: promised by the end of that day, with a film that two of them need. */
export function proposed(cars: readonly DayCar[], now = new Date()): string[] {
  const end = new Date(now);
  end.setHours(23, 59, 59, 999);
  const due = cars.filter((car) => car.promised_at !== null && new Date(car.promised_at) <= end);
  const sharing = due.filter((car) =>
    car.films.some((film) =>
      due.some((other) => other !== car && other.films.some((theirs) => theirs.film_id === film.film_id)),
    ),
  );
  return sharing.map((car) => car.job_id);
}
