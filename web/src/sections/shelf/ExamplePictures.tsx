import { signed, THIN } from "../../shared/format";
import { useGet } from "../../shared/api/useGet";
import { PictureCrop } from "../../shared/coupon/PictureCrop";
import { letterOf } from "../../shared/coupon/CouponDrawing";

const WORDS = { under: "Too little light", right: "Right", over: "Too much light" } as const;

/** What each part looks like under, right and over: pictures of the virtual printer. */
export function ExamplePictures({ kind }: { kind: string }) {
  const { data } = useGet(
    "/api/coupon-examples/{kind}",
    { params: { path: { kind } } },
    { staleTime: Infinity, retry: false },
  );
  if (!data) return null;
  return (
    <section className="panel examples" aria-label="What it looks like">
      <h2>What it looks like</h2>
      <p className="text-secondary">Coupons of the virtual printer, straightened, in one light.</p>
      <div className="table-responsive">
        <table aria-label="Each part under, right and over">
          <thead>
            <tr>
              <th scope="col">Part</th>
              {data.pictures.map((one) => (
                <th key={one.call} scope="col">
                  {WORDS[one.call]}
                  {one.growth_um !== null && (
                    <span className="text-secondary num d-block">
                      edges {signed(one.growth_um)}
                      {THIN}µm
                    </span>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.plan.parts?.map((part, index) => (
              <tr key={part.name}>
                <th scope="row">
                  <b className="letter">{letterOf(index)}</b> {part.name}
                </th>
                {data.pictures.map((one) => (
                  <td key={one.call}>
                    <PictureCrop
                      picture={{ href: `/api/coupon-examples/${kind}/${one.call}`, marginMm: data.margin_mm }}
                      plan={data.plan}
                      place={part.place}
                      roomMm={0.6}
                      label={`${part.name}, ${WORDS[one.call].toLowerCase()}`}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
