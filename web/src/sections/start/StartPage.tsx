import { PageHead } from "../../app/PageHead";
import { ThreeWays } from "../../shared/start/ThreeWays";

/** The three ways into a lab, also for one that is not empty any more. */
export default function StartPage() {
  return (
    <>
      <PageHead title="Begin here" sub="three ways into this lab" />
      <ThreeWays />
    </>
  );
}
