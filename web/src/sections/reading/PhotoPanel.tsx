import { useRef } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, upload, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Coupon } from "./model";
import { useGet } from "../../shared/api/useGet";
import { megabytes } from "../../shared/format";

/** Photos of this coupon: taken with a phone or chosen, taken away with undo. */
export function PhotoPanel({ coupon }: { coupon: Coupon }) {
  const say = useSay();
  const most = useGet("/api/file-limits", {}, { staleTime: Infinity }).data?.photo_bytes;
  const picker = useRef<HTMLInputElement>(null);
  const add = useSend(
    (file: File, headers) => {
      if (most && file.size > most)
        throw new ApiError(
          413,
          `This file has ${megabytes(file.size)}; ${megabytes(most)} at most. Take the photo at a lower resolution.`,
        );
      return upload<Schemas["PhotoView"]>(`/api/coupons/${coupon.code}/photos`, "photo", file, headers);
    },
    () => say("The photo is saved."),
    {
      waits: {
        words: () => `Photo of ${coupon.code}`,
        onKept: () => say(`The photo of ${coupon.code} waits in this device.`),
      },
    },
  );
  const restore = useSend((photo_id: string) =>
    body(POST("/api/photos/{photo_id}/restore", { params: { path: { photo_id } } })),
  );
  const retire = useSend(
    (photo_id: string) => body(POST("/api/photos/{photo_id}/retire", { params: { path: { photo_id } } })),
    (_, photo_id) => say("The photo is removed.", () => restore.mutate(photo_id)),
  );
  return (
    <section className="panel" aria-label="Photos">
      <div className="d-flex flex-wrap gap-2 align-items-center mb-2">
        <h2 className="mb-0">Photos</h2>
        <Button variant="quiet" className="ms-auto" disabled={add.isPending} onClick={() => picker.current?.click()}>
          {add.isPending ? "Sending…" : "Add a photo"}
        </Button>
        <input
          ref={picker}
          type="file"
          accept="image/jpeg,image/png,image/webp"
          hidden
          aria-label="Photo file"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) add.mutate(file);
            event.target.value = "";
          }}
        />
      </div>
      <Trouble error={add.error ?? retire.error} className="mb-2" />
      {coupon.photos.length ? (
        <div className="photos">
          {coupon.photos.map((photo) => (
            <figure key={photo.id}>
              <a href={`/api/photos/${photo.id}`} target="_blank" rel="noreferrer">
                <img
                  className="photo"
                  loading="lazy"
                  src={`/api/photos/${photo.id}`}
                  alt={`Coupon ${coupon.code}, ${moment(photo.taken_at)}`}
                />
              </a>
              <Button variant="link" size="sm" onClick={() => retire.mutate(photo.id)}>
                Remove
              </Button>
            </figure>
          ))}
        </div>
      ) : (
        <p className="text-secondary mb-0">
          A photo from above, in the same light each time, settles doubtful coupons beside their neighbours.
        </p>
      )}
    </section>
  );
}
