import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, upload } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { plural, megabytes, moment, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import type { Draft } from "./draft";
import type { Coupon, Picture } from "./model";
import { PictureQuestions } from "./PictureQuestions";
import { PicturePicker } from "./PicturePicker";

type Props = { coupon: Coupon; draft: Draft; onFill: (picture: Picture) => void; onDraft: (draft: Draft) => void };

/** Take or choose a picture; what is sure in it fills the reading, what is not is asked, and nothing is saved unseen. */
export function ReadPicture({ coupon, draft, onFill, onDraft }: Props) {
  const say = useSay();
  const [dpi, setDpi] = useState<number | null>(null);
  const most = useGet("/api/file-limits", {}, { staleTime: Infinity }).data?.photo_bytes;
  const read = useSend(
    (file: File, headers) => {
      if (most && file.size > most)
        throw new ApiError(
          413,
          `This file has ${megabytes(file.size)}; ${megabytes(most)} at most. Take the picture at a lower resolution.`,
        );
      const query = dpi ? `?scanner_dpi=${dpi}` : "";
      return upload<Coupon>(`/api/coupons/${coupon.code}/pictures${query}`, "picture", file, headers);
    },
    ({ picture }) => picture && onFill(picture),
    {
      waits: {
        words: () => `Picture of ${coupon.code}, to be read`,
        onKept: () => say(`The picture of ${coupon.code} waits in this device: it is read when the server answers.`),
      },
    },
  );
  const discard = useSend(
    (picture_id: string) => body(POST("/api/pictures/{picture_id}/discard", { params: { path: { picture_id } } })),
    () => {
      onDraft({ ...draft, pictureId: null });
      say("The picture is not used; it stays among the photos.");
    },
  );
  const { picture } = coupon;
  return (
    <section className="read-picture mb-3" aria-label="Read from a picture">
      <PicturePicker
        words={picture ? "Another picture" : "Read from a picture"}
        quiet={picture !== null}
        reading={read.isPending}
        dpi={dpi}
        scansOnly={coupon.picture_by === "scan"}
        onDpi={setDpi}
        onPick={(file) => read.mutate(file)}
      />
      <Trouble error={read.error ?? discard.error} className="mt-2" />
      {picture && (
        <div className="mt-2">
          <PictureSummary picture={picture} used={draft.pictureId === picture.id} />
          {draft.pictureId === picture.id ? (
            <PictureQuestions coupon={coupon} picture={picture} draft={draft} onDraft={onDraft} />
          ) : (
            <Button size="sm" variant="outline-primary" onClick={() => onFill(picture)}>
              Fill in {plural(picture.filled.length, "sure mark")}
            </Button>
          )}
          <Button variant="link" size="sm" onClick={() => discard.mutate(picture.id)}>
            Do not use this picture
          </Button>
        </div>
      )}
    </section>
  );
}

function PictureSummary({ picture, used }: { picture: Picture; used: boolean }) {
  return (
    <>
      {picture.notices.map((notice) => (
        <p key={notice.code} className="caution mb-2">
          {notice.message}
        </p>
      ))}
      <p className="small text-secondary mb-2">
        {used
          ? `${plural(picture.filled.length, "mark")} filled in from the picture`
          : "A picture waits to be confirmed"}
        {`, read ${moment(picture.taken_in_at)} for ${picture.initials}. `}
        <span className="num">
          {picture.px_per_mm.toFixed(0)}
          {THIN}px/mm
        </span>
        {picture.scanner_dpi
          ? `, scan at ${picture.scanner_dpi} dpi.`
          : ". A photo does not measure bars: use calipers."}
      </p>
    </>
  );
}
