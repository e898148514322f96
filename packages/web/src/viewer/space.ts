/** Where the picture lies in the viewer: screen = picture x zoom + offset, in CSS pixels. */
export interface Space {
  zoom: number;
  x: number;
  y: number;
}
export const toScreen = (space: Space, x: number, y: number): [number, number] => [x * space.zoom + space.x, y * space.zoom + space.y];
export const toPicture = (space: Space, x: number, y: number): [number, number] => [(x - space.x) / space.zoom, (y - space.y) / space.zoom];

export function fit(width: number, height: number, picture: { width: number; height: number }): Space {
  const zoom = Math.min((width - 12) / picture.width, (height - 12) / picture.height);
  return { zoom, x: (width - picture.width * zoom) / 2, y: (height - picture.height * zoom) / 2 };
}
/** Zooms so that the point under the pointer stays. */
export function zoomAt(space: Space, zoom: number, x: number, y: number): Space {
  const z = Math.min(32, Math.max(0.05, zoom)),
    [px, py] = toPicture(space, x, y);
  return { zoom: z, x: x - px * z, y: y - py * z };
}

/** Space both moves the picture (held, with a drag) and plays (pressed alone): a press that moved something plays nothing. */
export const spaceKey = { held: false, moved: false };
