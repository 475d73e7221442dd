import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { body, GET } from "../shared/api/client";
import { decimal, THIN } from "../shared/format";

/** How warm the room is, from its probe; it leads to the log. */
export function RoomNow() {
  const query = useQuery({ queryKey: ["room"], queryFn: () => body(GET("/api/room")), refetchInterval: 60_000 });
  const room = query.data?.room;
  if (!room && !query.data?.stale) return null;
  const said = room ? `Room ${decimal(room.temp_c, 1)} °C, by ${room.probe}` : "The room's probe is silent";
  return (
    <Link to="/climate" className="room num" aria-label={said} title={said}>
      {room ? `${decimal(room.temp_c, 1)}${THIN}°C` : `–${THIN}°C`}
    </Link>
  );
}
