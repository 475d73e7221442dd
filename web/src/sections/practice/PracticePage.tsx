import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useTechnician } from "../../app/people/technician";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { plural, signed, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { TrendPlot } from "../../shared/plot/TrendPlot";
import { SectionTabs } from "../../shared/SectionTabs";
import { Trouble } from "../../shared/Trouble";
import { BIAS_WORDS, LEVELS, PRACTICE_TABS } from "./tabs";
import "./practice.scss";

type Person = Schemas["PersonPractice"];

/** Hidden coupons at three levels, and how each person reads over time. */
export default function PracticePage() {
  const navigate = useNavigate();
  const { initials } = useTechnician();
  const query = useGet("/api/practice", {});
  const begin = useSend(
    (level: 1 | 2 | 3, headers) => body(POST("/api/practice/rounds", { body: { level }, headers })),
    (made) => void navigate(`/practice/rounds/${made.id}`),
  );
  return (
    <>
      <PageHead title="Practice" sub="Do I read coupons right?" />
      <SectionTabs name="Practice" tabs={PRACTICE_TABS} />
      <section className="panel mb-3" aria-label="Begin a round">
        <p>
          Four hidden coupons of the virtual printer, all of one resin nobody knows. Mark each, call it, choose the next
          exposure; the truth lies over your marks at once. Practice is no evidence: nothing of it counts anywhere.
        </p>
        <div className="levels">
          {LEVELS.map(({ level, name, what }) => (
            <Button
              key={level}
              variant={level === 1 ? "primary" : "outline-primary"}
              disabled={begin.isPending}
              onClick={() => begin.mutate(level)}
            >
              <strong>{begin.isPending && begin.variables === level ? "Printing the first coupon…" : name}</strong>
              <span>{what}</span>
            </Button>
          ))}
        </div>
        <Trouble error={begin.error} className="mt-2" />
        {query.data?.open_round && (
          <p className="mt-3 mb-0">
            <Link to={`/practice/rounds/${query.data.open_round}`}>Go on with your open round</Link>
          </p>
        )}
      </section>
      <Loaded query={query}>
        {({ people }) =>
          people.length ? (
            <div className="practice-panels">
              {[...people]
                .sort((a, b) => Number(b.initials === initials) - Number(a.initials === initials))
                .map((person) => (
                  <PersonPanel key={person.initials} person={person} />
                ))}
            </div>
          ) : (
            <EmptyState purpose="Nobody has practised here yet. After a round, each person’s bias in µm and counts stands here, over time." />
          )
        }
      </Loaded>
    </>
  );
}

const KINDS = ["walls", "slots", "plug"] as const;
const VALUE = { walls: "wall_bias_um", slots: "slot_bias_um", plug: "plug_bias_um" } as const;

function PersonPanel({ person }: { person: Person }) {
  return (
    <section className="panel" aria-label={`Practice of ${person.initials}`}>
      <h2>{person.initials}</h2>
      <p>
        {plural(person.coupons, "coupon")}: {person.rightly_called} called as they are,{" "}
        {person.wrong_pct.toFixed(person.wrong_pct < 10 ? 1 : 0)}
        {THIN}% of marks read otherwise than they are.
      </p>
      <ul className="biases">
        {person.biases.map((bias) => (
          <li key={bias.of}>{biasSentence(bias)}</li>
        ))}
      </ul>
      <div className="bias-plots">
        {KINDS.map((kind) => {
          const points = person.points.flatMap((point, index) => {
            const value = point[VALUE[kind]];
            return value === null ? [] : [{ x: index + 1, values: [value], centre: null, interval: null }];
          });
          return points.length > 1 ? (
            <div key={kind}>
              <h3>{BIAS_WORDS[kind].name}, read less true</h3>
              <TrendPlot
                name={`${BIAS_WORDS[kind].name} of ${person.initials}`}
                unit="µm"
                against="coupon"
                againstUnit="in order of practice"
                points={points}
                curve={[
                  [0, 0],
                  [person.points.length, 0],
                ]}
              />
            </div>
          ) : null;
        })}
      </div>
    </section>
  );
}

/** What a bias means, and whether it is more than chance. */
export function biasSentence(bias: Schemas["PracticeBias"]): string {
  const words = BIAS_WORDS[bias.of];
  const value = `${signed(bias.bias_um)}${THIN}µm`;
  const interval = bias.bias_ci_um
    ? ` (${signed(bias.bias_ci_um[0])} to ${signed(bias.bias_ci_um[1])}${THIN}µm)`
    : ", too few coupons for an interval";
  if (!bias.shown) return `${words.name}: ${value}${interval}; no bias is shown.`;
  return `${words.name}: ${value}${interval}: ${bias.bias_um > 0 ? words.high : words.low}.`;
}
