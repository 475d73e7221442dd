import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { useSay } from "../../app/toasts";
import type { Schemas } from "../../shared/api/client";

const FILES: [string, string][] = [
  ["pdf", "Page with a QR code (PDF)"],
  ["txt", "Text"],
  ["csv", "CSV"],
  ["json", "JSON"],
];

/** What a card can become: paper, clipboard, a file, or one side of a comparison. */
export function CardTools({ card, onCompare }: { card: Schemas["SetCard"]; onCompare: (code: string) => void }) {
  const say = useSay();
  const file = (format: string) => `/api/sets/${card.code}/file?format=${format}`;
  async function copy(format: string) {
    const text = await (await fetch(file(format))).text();
    await navigator.clipboard.writeText(text);
    say(`${card.code} is on the clipboard as ${format === "txt" ? "text" : format.toUpperCase()}.`);
  }
  const others = card.versions.filter(([, code]) => code !== card.code);
  return (
    <>
      {others.length > 0 && (
        <Dropdown>
          <Dropdown.Toggle variant="quiet">Compare with</Dropdown.Toggle>
          <Dropdown.Menu>
            {others.map(([version, code]) => (
              <Dropdown.Item as="button" key={code} onClick={() => onCompare(code)}>
                {code}, version {version}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      )}
      <Dropdown>
        <Dropdown.Toggle variant="quiet">Copy or save</Dropdown.Toggle>
        <Dropdown.Menu>
          {["txt", "csv", "json"].map((format) => (
            <Dropdown.Item as="button" key={format} onClick={() => void copy(format)}>
              Copy as {format === "txt" ? "text" : format.toUpperCase()}
            </Dropdown.Item>
          ))}
          <Dropdown.Divider />
          {FILES.map(([format, name]) => (
            <Dropdown.Item key={format} href={file(format)} download>
              {name}
            </Dropdown.Item>
          ))}
          <Dropdown.Item href={`/api/sets/${card.code}/part`} download>
            With all it rests on (JSON)
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <Button onClick={() => window.print()}>Print the card</Button>
    </>
  );
}
