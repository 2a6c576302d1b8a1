import { useEffect, useRef } from "react";

const tiles = new Map<string, Promise<ImageData>>();

/** The pixels of a tooth, fetched once. */
function tooth(url: string): Promise<ImageData> {
  const held = tiles.get(url);
  if (held) return held;
  const loading = (async () => {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement("canvas");
    canvas.width = image.width;
    canvas.height = image.height;
    const context = canvas.getContext("2d");
    if (!context) throw new Error("no canvas");
    context.drawImage(image, 0, 0);
    return context.getImageData(0, 0, image.width, image.height);
  })();
  loading.catch(() => tiles.delete(url));
  tiles.set(url, loading);
  return loading;
}

const channels = (hex: string) => [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16));

type Props = {
  /** Address of the paper's tooth. */
  url: string;
  /** Colours from its valleys to its peaks. */
  colours: string[];
  label: string;
};

/** A drawn patch with the grain of its paper; as a whole it has the colour that the recipe gives. */
export function Grain({ url, colours, label }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = colours.join();
  useEffect(() => {
    let wanted = true;
    const table = key.split(",").map(channels);
    void tooth(url).then((tile) => {
      const context = canvas.current?.getContext("2d");
      if (!wanted || !context) return;
      const out = context.createImageData(tile.width, tile.height);
      for (let i = 0; i < out.data.length; i += 4) {
        const level = Math.floor(((tile.data[i] ?? 0) * table.length) / 256);
        const [red = 0, green = 0, blue = 0] = table[level] ?? [];
        out.data.set([red, green, blue, 255], i);
      }
      const whole = context.canvas;
      const one = new OffscreenCanvas(tile.width, tile.height);
      one.getContext("2d")?.putImageData(out, 0, 0);
      const pattern = context.createPattern(one, "repeat");
      if (!pattern) return;
      context.fillStyle = pattern;
      context.fillRect(0, 0, whole.width, whole.height);
    });
    return () => {
      wanted = false;
    };
  }, [url, key]);
  return <canvas ref={canvas} className="grain" width={192} height={96} role="img" aria-label={label} />;
}
