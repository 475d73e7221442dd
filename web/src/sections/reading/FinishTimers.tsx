import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { duration } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Coupon } from "./model";

/** The steps of the finish route with their times; each starts a timer in the top bar. */
export function FinishTimers({ coupon }: { coupon: Coupon }) {
  const say = useSay();
  const end = useSend((id: string) => body(POST("/api/timers/{timer_id}/end", { params: { path: { timer_id: id } } })));
  const start = useSend(
    (step: { name: string; seconds: number }, headers) =>
      body(
        POST("/api/timers", {
          body: { name: `${step.name} ${coupon.code}`, seconds: step.seconds, place: `/coupons/${coupon.code}` },
          headers,
        }),
      ),
    (made) => say(`${made.name} runs in the top bar.`, () => end.mutate(made.id)),
  );
  if (!coupon.finish_steps.length) return null;
  return (
    <div className="mb-3">
      <div className="d-flex flex-wrap gap-2" role="group" aria-label="Start a timer">
        {coupon.finish_steps.map((step) => (
          <Button
            key={step.name}
            size="sm"
            variant="quiet"
            disabled={start.isPending}
            onClick={() => start.mutate(step)}
            aria-label={`Start a timer: ${step.name}`}
          >
            {step.name} {duration(step.seconds)}
          </Button>
        ))}
      </div>
      <Trouble error={start.error} />
    </div>
  );
}
