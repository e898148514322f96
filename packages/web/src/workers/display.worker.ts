import { Film } from './film';
import type { DisplayAnswer, DisplayRequest, DrawnPixels } from './protocol';

/*
 * Has the drawn pictures and the canvas. The drawing worker hands them over directly; the page only says which one is to be seen, or which film is to be
 * played, so that its own thread never touches a pixel and a busy page drops no frame.
 */
const pictures = new Map<string, ImageData>();
let canvas: OffscreenCanvas | null = null,
  wanted: { key: string; frame: number } | null = null,
  awaited: { tickets: string[]; frame: number } | null = null,
  seen = '',
  film: Film | null = null,
  told = 0;
const answer = (message: DisplayAnswer) => (self as unknown as Worker).postMessage(message);
/** How often the page hears where the film stands, milliseconds. */
const TELL = 120;

/** Size of the sharp pictures; 0 until the page has said it. */
let room = { width: 0, height: 0 };
const drafts = new OffscreenCanvas(1, 1);
/**
 * Puts a picture on the canvas. The canvas keeps the size of sharp pictures, and a draft is drawn larger: another size of a canvas that the page shows
 * waits for the page's own thread, which held each draft back by 60 ms while components were drawn.
 */
function put(picture: ImageData, to: OffscreenCanvas): void {
  const { width, height } = picture,
    smaller = width < room.width;
  sized(to, smaller ? room : picture);
  const context = to.getContext('2d')!;
  if (!smaller) {
    context.putImageData(picture, 0, 0);
    return;
  }
  sized(drafts, picture);
  drafts.getContext('2d')!.putImageData(picture, 0, 0);
  context.drawImage(drafts, 0, 0, width, height, 0, 0, to.width, to.height);
}
function sized(one: OffscreenCanvas, { width, height }: { width: number; height: number }): void {
  if (one.width === width && one.height === height) return;
  one.width = width;
  one.height = height;
}

function paint(): void {
  const picture = wanted && pictures.get(wanted.key);
  if (!wanted || !picture || !canvas) return;
  const { key, frame } = wanted,
    what = `${key} ${frame}`;
  wanted = null;
  // Shown already, as soon as it came.
  if (what === seen) return;
  seen = what;
  put(picture, canvas);
  answer({ kind: 'shown', key, frame, width: picture.width, time: performance.timeOrigin + performance.now() });
}

let standing = 0;
function tick(now: number): void {
  if (!film) return;
  const moment = film.at(now);
  if (moment && 'over' in moment) {
    film = null;
    answer({ kind: 'ended', frame: standing });
    return;
  }
  if (moment && 'show' in moment) {
    standing = moment.show;
    wanted = { key: film.keyOf(moment.show)!, frame: moment.show };
    paint();
  }
  if (now - told > TELL) {
    told = now;
    answer({
      kind: 'playing',
      frame: standing,
      perSecond: film.rate,
      skipped: film.skipped,
      waitsFor: moment && 'waitFor' in moment ? moment.waitFor : null,
    });
  }
  requestAnimationFrame(tick);
}

self.onmessage = (event: MessageEvent<DisplayRequest>) => {
  const request = event.data;
  switch (request.kind) {
    case 'port':
      request.port.onmessage = ({ data }: MessageEvent<DrawnPixels>) => {
        const { key, ticket, picture } = data;
        if (picture) pictures.set(key, new ImageData(picture.pixels, picture.width, picture.height));
        if (!film && awaited?.tickets.includes(ticket)) wanted = { key, frame: awaited.frame };
        if (wanted?.key === key) paint();
      };
      break;
    case 'canvas':
      canvas = request.canvas;
      seen = '';
      break;
    case 'room':
      room = request;
      break;
    case 'await':
      awaited = request;
      break;
    case 'show':
      if (film) break;
      awaited = null;
      wanted = { key: request.key, frame: request.frame };
      paint();
      break;
    case 'forget':
      for (const key of request.keys) pictures.delete(key);
      break;
    case 'play': {
      const begins = film === null;
      film = new Film(request.film, request.at, request.perSecond, request.loop);
      standing = request.film[request.at]?.frame ?? 0;
      if (begins) requestAnimationFrame(tick);
      break;
    }
    case 'film':
      film?.put(request.frame, request.key);
      break;
    case 'stop':
      film = null;
      break;
  }
};
