import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { askWith } from "../shared/api/whoIsWorking";
import { useGet } from "../shared/api/useGet";
import { FormDialog } from "../shared/fields/FormDialog";
import { useTechnician } from "./technician";
import { useNewInitials } from "./useNewInitials";

type Asked = { answer: (initials: string | null) => void };

/** Every change carries initials: where nobody chose theirs, they are asked for once, and the change goes on. */
export function WhoIsWorking() {
  const [asked, setAsked] = useState<Asked | null>(null);
  useEffect(() => {
    askWith(() => new Promise((answer) => setAsked({ answer })));
    return () => askWith(null);
  }, []);
  if (!asked) return null;
  return (
    <Choose
      onDone={(initials) => {
        setAsked(null);
        asked.answer(initials);
      }}
    />
  );
}

function Choose({ onDone }: { onDone: (initials: string | null) => void }) {
  const { choose } = useTechnician();
  const people = useGet("/api/technicians").data?.items.filter((one) => !one.retired_at) ?? [];
  const label = people.length ? "Or your initials, one to four letters" : "Your initials, one to four letters";
  const added = useNewInitials(label, onDone);
  return (
    <FormDialog
      title="Who is working?"
      action="Work as these"
      saving={added.saving}
      error={null}
      onSave={added.save}
      onClose={() => onDone(null)}
    >
      <p className="mb-0">Every change carries the initials of who made it. They are asked for once in this browser.</p>
      {people.length > 0 && (
        <div className="d-flex flex-wrap gap-2" role="group" aria-label="Initials here">
          {people.map((one) => (
            <Button
              key={one.id}
              variant="quiet"
              className="num"
              onClick={() => {
                choose(one.initials);
                onDone(one.initials);
              }}
            >
              {one.initials}
            </Button>
          ))}
        </div>
      )}
      {added.field}
    </FormDialog>
  );
}
