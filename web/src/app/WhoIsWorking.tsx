import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { askWith } from "../shared/api/whoIsWorking";
import { type ApiError, body, POST, type Schemas } from "../shared/api/client";
import { useGet } from "../shared/api/useGet";
import { FormDialog } from "../shared/fields/FormDialog";
import { TextField } from "../shared/fields/TextField";
import { useTechnician } from "./technician";

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
  const [text, setText] = useState("");
  const people = useGet("/api/technicians").data?.items.filter((one) => !one.retired_at) ?? [];
  const work = (initials: string) => {
    choose(initials);
    onDone(initials);
  };
  // Not in turn with other changes: one of them waits for this answer.
  const add = useMutation<Schemas["Technician"], ApiError, string>({
    mutationFn: (initials) => body(POST("/api/technicians", { body: { initials } })),
    onSuccess: (made) => work(made.initials),
  });
  const problem = add.error ? (add.error.fields.initials ?? add.error.message) : undefined;
  return (
    <FormDialog
      title="Who is working?"
      action="Work as these"
      saving={add.isPending}
      error={null}
      onSave={() => add.mutate(text)}
      onClose={() => onDone(null)}
    >
      <p className="mb-0">Every change carries the initials of who made it. They are asked for once in this browser.</p>
      {people.length > 0 && (
        <div className="d-flex flex-wrap gap-2" role="group" aria-label="Initials here">
          {people.map((one) => (
            <Button key={one.id} variant="quiet" className="num" onClick={() => work(one.initials)}>
              {one.initials}
            </Button>
          ))}
        </div>
      )}
      <TextField
        label={people.length ? "Or your initials, one to four letters" : "Your initials, one to four letters"}
        value={text}
        onChange={setText}
        error={problem?.includes("pattern") ? "Give one to four letters." : problem}
        autoFocus
        autoComplete="off"
        maxLength={12}
      />
    </FormDialog>
  );
}
