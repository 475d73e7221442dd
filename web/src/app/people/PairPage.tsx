import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";
import { useMutation } from "@tanstack/react-query";
import { type ApiError, body, POST } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { ClockOff } from "./ClockOff";
import { type Session, useTechnician } from "./technician";

/** Where a pairing code leads: one tap signs this phone in as whoever showed it. */
export default function PairPage() {
  const { session, changed } = useTechnician();
  const navigate = useNavigate();
  // It stands behind the # of the address, which no server and no log sees.
  const [token] = useState(() => decodeURIComponent(location.hash.slice(1)));
  const pair = useMutation<Session, ApiError, null>({
    mutationFn: () => body(POST("/api/session/pair", { body: { token } })),
    onSuccess: async () => {
      await changed();
      void navigate("/at-hand", { replace: true });
    },
  });
  const me = session?.signed_in;
  return (
    <div className="sign-in">
      <h1>Pair this device</h1>
      <p>
        It is signed in as whoever showed the code, and stays known to this workshop until it is revoked under This lab,
        People.{me && ` ${me.initials} is signed in here now, and is signed out by it.`}
      </p>
      <ClockOff />
      <Trouble error={pair.error} className="mb-3" />
      <Button
        size="lg"
        className="w-100"
        disabled={!token || pair.isPending || Boolean(pair.error)}
        onClick={() => pair.mutate(null)}
      >
        Pair it
      </Button>
      {!token && <p className="mt-3">There is no code in this address. Scan the one on the screen.</p>}
    </div>
  );
}
