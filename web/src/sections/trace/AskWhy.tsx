import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";

/** Leads from a failed print to its trace, which is begun where there is none yet. */
export function AskWhy({ code, small }: { code: string; small?: boolean }) {
  const navigate = useNavigate();
  const say = useSay();
  const ask = useSend(
    (_: null, headers) => body(POST("/api/traces", { body: { print_code: code, symptoms: null }, headers })),
    (made) => void navigate(`/log/why/${made.code}`),
  );
  return (
    <Button
      variant={small ? "link" : "primary"}
      size={small ? "sm" : undefined}
      className={small ? "p-0 d-block" : undefined}
      disabled={ask.isPending}
      aria-label={`Why did ${code} fail?`}
      onClick={() => ask.mutate(null, { onError: (error) => say(error.message) })}
    >
      Why did it fail?
    </Button>
  );
}
