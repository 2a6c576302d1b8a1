import { type ReactNode, useState } from "react";

/** Width and height of a picture once it is there, and what loads it. */
export function usePictureShape(url: string): [[number, number], ReactNode] {
  const [shape, setShape] = useState<[number, number]>([3, 4]);
  return [
    shape,
    <img
      key="shape"
      src={url}
      alt=""
      hidden
      onLoad={(event) => setShape([event.currentTarget.naturalWidth, event.currentTarget.naturalHeight])}
    />,
  ];
}
