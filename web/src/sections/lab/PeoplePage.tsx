import { PageHead } from "../../app/PageHead";
import { type Session, useTechnician } from "../../app/people/technician";
import { EmptyState } from "../../shared/EmptyState";
import { Accounts } from "./Accounts";
import { DevicesPanel } from "./DevicesPanel";
import { LabTabs } from "./LabTabs";
import { YouPanel } from "./YouPanel";
import "./lab.scss";

/** Who may sign in here, from which devices, and one's own password and PIN. */
export default function PeoplePage() {
  const { session, isKnown } = useTechnician();
  return (
    <>
      <PageHead title="People" sub="who works here, what each may do, and from which devices" />
      <LabTabs />
      {session?.signed_in && <SignedInPage key={session.signed_in.initials} me={session.signed_in} />}
      {isKnown && !session?.asks && <Alone />}
    </>
  );
}

function SignedInPage({ me }: { me: NonNullable<Session["signed_in"]> }) {
  return (
    <div className="d-grid gap-4 lab-settings">
      <YouPanel me={me} />
      {me.may_lead && <Accounts />}
      <DevicesPanel isLead={me.may_lead} />
    </div>
  );
}

/** One person at their own machine: nobody signs in, and this is how that changes. */
function Alone() {
  return (
    <section className="panel" aria-label="Serving a workshop">
      <EmptyState purpose="Setback answers on this machine alone, and whoever sits at it chooses their initials at the top right. To work from several devices, each person gets an account; initials that are in use keep all their history.">
        <p className="mb-2">On the machine that keeps the data:</p>
        <pre className="text-start d-inline-block mb-3">
          setback user add RB{"\n"}setback tls-certificate bench.local{"\n"}setback serve --host 192.168.7.20
        </pre>
        <p className="mb-0">docs/operations.md goes through it step by step, phones and proxies included.</p>
      </EmptyState>
    </section>
  );
}
