import type { RefObject } from "react";

const KINDS = "image/jpeg,image/png,image/webp,image/tiff,image/heic,image/heif,.heic,.heif,application/pdf";

type Props = { input: RefObject<HTMLInputElement | null>; onChoose: (file: File | undefined) => void };

/** The hidden field by which a picture is chosen; the same file can be chosen twice. */
export function PictureInput({ input, onChoose }: Props) {
  return (
    <input
      ref={input}
      type="file"
      hidden
      aria-label="Picture file"
      accept={KINDS}
      onChange={(event) => {
        onChoose(event.target.files?.[0]);
        event.target.value = "";
      }}
    />
  );
}
