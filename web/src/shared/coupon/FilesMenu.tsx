import Dropdown from "react-bootstrap/Dropdown";
import { FORMATS } from "./FileLinks";

/** The files of one thing where there is little room: a menu of formats. */
export function FilesMenu({ name, href }: { name: string; href: (format: string) => string }) {
  return (
    <Dropdown>
      <Dropdown.Toggle size="sm" variant="quiet" aria-label={`Files of ${name}`}>
        Files
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {FORMATS.map(([format, word]) => (
          <Dropdown.Item key={format} href={href(format)} download>
            {word}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
