import { THIN, temperature } from "../shared/format";
import { Link } from "react-router";
import { useGet } from "../shared/api/useGet";
import { signOfUnit } from "../shared/labForm";

/** How warm the room is, from its probe; it leads to the log. */
export function RoomNow() {
  const query = useGet("/api/room", {}, { refetchInterval: 60_000 });
  const room = query.data?.room;
  if (!room && !query.data?.stale) return null;
  const said = room ? `Room ${temperature(room.temp_c, 1)}, by ${room.probe}` : "The room's probe is silent";
  return (
    <Link to="/climate" className="room num" aria-label={said} title={said}>
      {room ? temperature(room.temp_c, 1) : `–${THIN}${signOfUnit("°C")}`}
    </Link>
  );
}
