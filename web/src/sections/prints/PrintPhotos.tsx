import { type Schemas, upload } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FileField } from "../../shared/fields/FileField";
import { moment } from "../../shared/format";

/** Pictures of a print; one that is added is kept at once. */
export function PrintPhotos({ page }: { page: Schemas["PrintPage"] }) {
  const add = useSend(
    (file: File, headers) => upload<Schemas["PhotoView"]>(`/api/prints/${page.code}/photos`, "photo", file, headers),
    undefined,
    { waits: { words: () => `Photo of ${page.code}` } },
  );
  return (
    <>
      <div className="photos">
        {page.photos.map((photo) => (
          <a key={photo.id} href={`/api/photos/${photo.id}`}>
            <img
              className="img-fluid"
              src={`/api/photos/${photo.id}`}
              alt={`${page.code}, ${moment(photo.taken_at)}`}
            />
          </a>
        ))}
      </div>
      <FileField
        label="Add a photo"
        accept="image/*"
        disabled={add.isPending}
        onChoose={(file) => add.mutate(file)}
        error={add.error?.fields.photo ?? add.error?.message}
      />
    </>
  );
}
