/** What is done to a picture, drawn: the same geometry as the server's, for looking at it while it is chosen. */
export interface Size {
  width: number;
  height: number;
}
export interface Rect extends Size {
  x: number;
  y: number;
}
export interface Point {
  x: number;
  y: number;
}
export interface Stand {
  turn: 0 | 90 | 180 | 270;
  flip: '' | 'horizontal' | 'vertical';
  /** Degrees clockwise. */
  straighten: number;
}

/** The size of the largest part of the same shape of a picture that is straightened. */
export function straightened({ width: w, height: h }: Size, degrees: number): Size {
  const a = (Math.abs(degrees) * Math.PI) / 180;
  const by = Math.min(w / (w * Math.cos(a) + h * Math.sin(a)), h / (w * Math.sin(a) + h * Math.cos(a)));
  return { width: Math.max(1, Math.floor(w * by)), height: Math.max(1, Math.floor(h * by)) };
}

/** The size of a picture that was turned, flipped and straightened. */
export function stood(of: Size, s: Stand): Size {
  const turned = s.turn % 180 ? { width: of.height, height: of.width } : of;
  return s.straighten ? straightened(turned, s.straighten) : turned;
}

/** The largest part of a shape around a focus, from 0 to 1 in both directions. */
export function around(of: Size, shape: Size, focus: Point): Rect {
  let width = of.width;
  let height = Math.max(1, Math.round((of.width * shape.height) / shape.width));
  if (height > of.height)
    [width, height] = [Math.max(1, Math.round((of.height * shape.width) / shape.height)), of.height];
  const place = (all: number, kept: number, at: number) =>
    Math.min(Math.max(Math.round(all * at - kept / 2), 0), all - kept);
  return { x: place(of.width, width, focus.x), y: place(of.height, height, focus.y), width, height };
}

/** Moves a part by some pixels, and keeps it in the picture. */
export function moved(r: Rect, by: Point, of: Size): Rect {
  const clamp = (v: number, most: number) => Math.min(Math.max(Math.round(v), 0), most);
  return { ...r, x: clamp(r.x + by.x, of.width - r.width), y: clamp(r.y + by.y, of.height - r.height) };
}

const least = 16; // pixels that a part is wide and high at least

/** Sizes a part by one of its corners, in its shape where that is held; the corner across from it stays. */
export function sized(r: Rect, corner: { left: boolean; top: boolean }, by: Point, of: Size, held?: Size): Rect {
  const across = { x: corner.left ? r.x + r.width : r.x, y: corner.top ? r.y + r.height : r.y };
  const roomX = corner.left ? across.x : of.width - across.x;
  const roomY = corner.top ? across.y : of.height - across.y;
  let width = Math.min(Math.max(r.width + (corner.left ? -by.x : by.x), least), roomX);
  let height = Math.min(Math.max(r.height + (corner.top ? -by.y : by.y), least), roomY);
  if (held) {
    width = Math.min(width, (roomY * held.width) / held.height);
    height = (width * held.height) / held.width;
  }
  width = Math.max(1, Math.round(width));
  height = Math.min(Math.max(1, Math.round(height)), roomY);
  return {
    x: corner.left ? across.x - width : across.x,
    y: corner.top ? across.y - height : across.y,
    width,
    height,
  };
}

/** Draws a part of a picture that was turned, flipped and straightened, filling the canvas. */
export function draw(canvas: HTMLCanvasElement, img: HTMLImageElement, of: Size, s: Stand, part: Rect) {
  const c = canvas.getContext('2d');
  if (!c || !part.width || !part.height) return;
  const all = stood(of, s);
  c.setTransform(1, 0, 0, 1, 0, 0);
  c.clearRect(0, 0, canvas.width, canvas.height);
  c.imageSmoothingQuality = 'high';
  c.scale(canvas.width / part.width, canvas.height / part.height);
  c.translate(all.width / 2 - part.x, all.height / 2 - part.y);
  c.rotate((s.straighten * Math.PI) / 180);
  c.scale(s.flip === 'horizontal' ? -1 : 1, s.flip === 'vertical' ? -1 : 1);
  c.rotate((s.turn * Math.PI) / 180);
  c.drawImage(img, -of.width / 2, -of.height / 2, of.width, of.height);
}
