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

function paint(): void {
  const picture = wanted && pictures.get(wanted.key);
  if (!wanted || !picture || !canvas) return;
  if (canvas.width !== picture.width || canvas.height !== picture.height) {
    canvas.width = picture.width;
    canvas.height = picture.height;
  }
  const { key, frame } = wanted,
    what = `${key} ${frame}`;
  wanted = null;
  // Shown already, as soon as it came.
  if (what === seen) return;
  seen = what;
  canvas.getContext('2d')!.putImageData(picture, 0, 0);
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
