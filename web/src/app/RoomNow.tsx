import { decimal, THIN } from "../shared/format";
import { Link } from "react-router";
import { useGet } from "../shared/api/useGet";

/** How warm the room is, from its probe; it leads to the log. */
export function RoomNow() {
  const query = useGet("/api/room", {}, { refetchInterval: 60_000 });
  const room = query.data?.room;
  if (!room && !query.data?.stale) return null;
  const said = room ? `Room ${decimal(room.temp_c, 1)} °C, by ${room.probe}` : "The room's probe is silent";
  return (
    <Link to="/climate" className="room num" aria-label={said} title={said}>
      {room ? `${decimal(room.temp_c, 1)}${THIN}°C` : `–${THIN}°C`}
    </Link>
  );
}
