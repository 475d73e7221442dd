import Form from "react-bootstrap/Form";
import { type Schemas, upload } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Trouble } from "../../shared/Trouble";
import type { Specimen } from "./model";

/** Where it broke, as a picture. */
export function SpecimenPhotos({ specimen }: { specimen: Specimen }) {
  const add = useSend((file: File) =>
    upload<Schemas["PhotoView"]>(`/api/specimens/${specimen.code}/photos`, "photo", file),
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
      <Form.Group controlId="specimen-photo">
        <Form.Label>{add.isPending ? "Sending…" : "Add a photo"}</Form.Label>
        <Form.Control
          type="file"
          accept="image/*"
          onChange={(event) => {
            const input = event.target as HTMLInputElement;
            const file = input.files?.[0];
            if (file) add.mutate(file);
            input.value = "";
          }}
        />
      </Form.Group>
      <Trouble error={add.error} className="mt-2" />
    </section>
  );
}
