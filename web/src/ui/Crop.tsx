/** A part of a picture, 0–1. */
export type View = { x: number; y: number; width: number; height: number };

/** A part of a picture, in a field that is a quarter higher than wide. */
export function Crop({ url, alt, view }: { url: string; alt: string; view: View }) {
  return (
    <span className="crop">
      <img
        src={url}
        alt={alt}
        draggable={false}
        style={{
          width: `${100 / view.width}%`,
          left: `${(-100 * view.x) / view.width}%`,
          top: `${(-100 * view.y) / view.height}%`,
        }}
      />
    </span>
  );
}
