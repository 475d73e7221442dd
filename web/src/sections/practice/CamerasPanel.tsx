import { useGet } from "../../shared/api/useGet";
import { plural, signed, THIN } from "../../shared/format";
import type { Schemas } from "../../shared/api/client";

/** Each camera and scanner as a gauge: learnt from coupons that were read by picture and by calipers. */
export function CamerasPanel() {
  const { data } = useGet("/api/camera-gauges", {}, { select: (answer) => answer.items });
  if (!data?.length) return null;
  return (
    <section className="panel mt-3" aria-label="Cameras and scanners">
      <h2>Cameras and scanners</h2>
      <p className="text-secondary">
        Learnt from pictures that people confirmed, and from coupons read by picture and by calipers.
      </p>
      <ul className="mb-0">
        {data.map((gauge) => (
          <li key={gauge.camera}>
            <strong>{gauge.camera}</strong>: {plural(gauge.changed, "mark")} of {gauge.marks} read otherwise by people.{" "}
            {growthSentence(gauge)}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What a camera makes of edges. */
export function growthSentence({ growth }: Schemas["CameraGauge"]): string {
  if (!growth) return "No size was read both ways yet.";
  const value = `${signed(growth.bias_um, 1)}${THIN}µm`;
  if (!growth.bias_ci_um)
    return `Edges ${value} against calipers on ${plural(growth.coupons, "coupon")}: too few to tell.`;
  const interval = `${signed(growth.bias_ci_um[0], 1)} to ${signed(growth.bias_ci_um[1], 1)}${THIN}µm, ${plural(growth.coupons, "coupon")}`;
  if (!growth.shown) return `Edges ${value} against calipers (${interval}): no error is shown.`;
  return `It shows edges ${value} against calipers (${interval}). A gauge study with the picture reader can correct it.`;
}
