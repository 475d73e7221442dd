import { FileField } from "../../shared/fields/FileField";
import { type Schemas, upload } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Trouble } from "../../shared/Trouble";
import type { Specimen } from "./model";

/** Where it broke, as a picture. */
export function SpecimenPhotos({ specimen }: { specimen: Specimen }) {
  const add = useSend(
    (file: File, headers) =>
      upload<Schemas["PhotoView"]>(`/api/specimens/${specimen.code}/photos`, "photo", file, headers),
    undefined,
    { waits: { words: () => `Photo of ${specimen.code}` } },
  );
  return (
    <section className="panel" aria-label="Photos">
      <div className="d-flex flex-wrap gap-2">
        {specimen.photos.map((one, index) => (
          <a key={one.id} href={`/api/photos/${one.id}`} target="_blank" rel="noreferrer">
            <img
              className="photo"
              src={`/api/photos/${one.id}`}
              alt={`${specimen.code}, ${index + 1} of ${specimen.photos.length}`}
              height={90}
            />
          </a>
        ))}
      </div>
      <FileField
        label={add.isPending ? "Sending…" : "Add a photo"}
        accept="image/jpeg,image/png,image/webp"
        disabled={add.isPending}
        onChoose={(file) => add.mutate(file)}
      />
      <Trouble error={add.error} className="mt-2" />
    </section>
  );
}
