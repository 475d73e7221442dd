import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment, temperature } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { ClimateTabs } from "./ClimateTabs";
import { WarmPlan } from "./WarmPlan";
import "./climate.scss";
import { useGet } from "../../shared/api/useGet";

/** A warm start as it was begun: its steps by the clock, and how warm it is meanwhile. */
export default function WarmRunPage() {
  const { code = "" } = useParams();
  const say = useSay();
  const navigate = useNavigate();
  const query = useGet("/api/warm-starts/{id_or_code}", { params: { path: { id_or_code: code } } });
  const stop = useSend(
    (_: null) => body(POST("/api/warm-starts/{id_or_code}/stop", { params: { path: { id_or_code: code } } })),
    () => say(`${code} is stopped and its timers are off. Switch the heater off.`),
  );
  return (
    <>
      <PageHead title={`Warm start ${code}`}>
        {query.data?.begun_at && (
          <Button variant="quiet" disabled={stop.isPending} onClick={() => stop.mutate(null)}>
            Stop it
          </Button>
        )}
        <Button onClick={() => void navigate("/log/new")}>Start the print</Button>
      </PageHead>
      <ClimateTabs here="/climate/warm-start" />
      <Loaded query={query}>
        {(held) => (
          <section className="panel" aria-label="The plan">
            <p>
              {held.asked.chambers.map((one) => one.printer).join(", ")} from {temperature(held.asked.ambient_c, 1)} to{" "}
              {temperature(held.asked.target_c)}. {held.begun_at ? `Begun ${moment(held.begun_at)}` : "Stopped"}
              {held.initials && ` by ${held.initials}`}.{" "}
              {held.begun_at ? "Its steps are timers in the bar above. " : "Its timers are off. "}
              <Link to="/climate?span=hours">Look at the log</Link>
            </p>
            <Trouble error={stop.error} className="mb-2" />
            <WarmPlan plan={held.plan} begun={held.begun_at ?? held.at} />
          </section>
        )}
      </Loaded>
    </>
  );
}
