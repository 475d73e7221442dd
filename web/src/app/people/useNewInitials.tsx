import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { TextField } from "../../shared/fields/TextField";
import { useTechnician } from "./technician";

/** Initials that are new here: their field, and what adds them and works as them from then on. */
export function useNewInitials(label: string, onAdded: (initials: string) => void) {
  const { choose } = useTechnician();
  const [text, setText] = useState("");
  // Not in turn with other changes: one of them may wait for this answer.
  const add = useMutation<Schemas["Technician"], ApiError, string>({
    mutationFn: (initials) => body(POST("/api/technicians", { body: { initials } })),
    onSuccess: (added) => {
      choose(added.initials);
      onAdded(added.initials);
    },
  });
  const problem = add.error ? (add.error.fields.initials ?? add.error.message) : undefined;
  return {
    saving: add.isPending,
    save: () => add.mutate(text),
    field: (
      <TextField
        label={label}
        value={text}
        onChange={setText}
        error={problem?.includes("pattern") ? "Give one to four letters." : problem}
        autoFocus
        autoComplete="off"
        maxLength={12}
      />
    ),
  };
}
