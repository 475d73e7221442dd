import { PageHead } from "../../app/PageHead";
import { Drawing, GLOSSARY, type WordKey } from "../../shared/glossary";
import { LabTabs } from "./LabTabs";
import "./lab.scss";

/** What the words of the job mean here. */
export default function GlossaryPage() {
  const words = (Object.keys(GLOSSARY) as WordKey[]).sort((a, b) => GLOSSARY[a].word.localeCompare(GLOSSARY[b].word));
  return (
    <>
      <PageHead title="Words" sub="what they mean here, each with a drawing" />
      <LabTabs />
      <div className="glossary">
        {words.map((key) => (
          <article key={key} className="panel" id={key}>
            <Drawing of={key} />
            <div>
              <h3>{GLOSSARY[key].word}</h3>
              <p>{GLOSSARY[key].meaning}</p>
            </div>
          </article>
        ))}
      </div>
    </>
  );
}
