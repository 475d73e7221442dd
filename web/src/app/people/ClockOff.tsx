import { useTechnician } from "./technician";

const NOTED_MIN = 5;

/** Says when this device's clock and the server's differ: times typed here would be wrong by as much. */
export function ClockOff() {
  const { session, answeredAt } = useTechnician();
  if (!session?.asks) return null;
  const ahead_min = Math.round((answeredAt - new Date(session.now).getTime()) / 60_000);
  const apart_min = Math.abs(ahead_min);
  if (apart_min < NOTED_MIN) return null;
  const [size_min, unit] = apart_min >= 48 * 60 ? [24 * 60, "days"] : apart_min >= 120 ? [60, "hours"] : [1, "minutes"];
  const words = `${Math.round(apart_min / size_min)} ${unit}`;
  return (
    <p className="caution no-print" role="status">
      This device's clock is {words} {ahead_min > 0 ? "ahead of" : "behind"} the server's. What is recorded carries the
      server's time; times typed here would be off by as much. Set this device's clock.
    </p>
  );
}
