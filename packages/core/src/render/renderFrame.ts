import { Arena, type Helpers } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { drawnRows } from '../shot/drawn';
import { clipWithRole, matteClip } from '../shot/clips';
import type { Shot } from '../shot/schema';
import { shotFrame } from '../shot/when';
import { Evaluator, Store, type Report, type Step } from './evaluate';
import { clipMatteStep, matteInBase, matteStep } from './matteSteps';
import { frontLinesIn, frontOrderStep, reachedOn, type FrontLine } from './frontLines';
import { planFrame } from './plan';
import { sceneAt } from './rowPicture';
import type { Factor } from './factor';
import type { Chains } from './scene';
import { combine } from './combine';
import { compared, type Compare } from './compare';
import { backingOf, cutFree } from './detached';
import { viewMatte, type MatteLook } from './matteView';
import { laidOver, type Skin } from './skin';
import { loadTracks, type Sources } from './sources';

/** Chains of pasts beyond which those of other documents are let go. */
const MOST_CHAINS = 64;

export interface FrameRequest {
  shot: Shot;
  frame: number;
  factor?: Factor;
  upTo?: string | null;
  /** The base without any row, or (an id) a clip where it stands in the base. */
  plain?: boolean | string;
  matte?: ({ id: string } & MatteLook) | null;
  /** A clip that is laid over the picture, to compare two takes. */
  skin?: { clip: string; how: Skin } | null;
  /** Another picture that it is looked at beside. */
  compare?: Compare | null;
  cancelled?: () => boolean;
  /** Somebody looks at this frame and may edit it; true where nothing is said. */
  playhead?: boolean;
}

/**
 * Draws frames of shots: the one way to a picture, in a browser worker, on the server and on the command line. One at a time.
 * @param clock milliseconds, for the cost of rows; it never touches a pixel.
 */
export class FrameRenderer {
  readonly evaluator: Evaluator;
  constructor(
    private readonly sources: Sources,
    size: { width: number; height: number },
    memoryLimit: number,
    clock?: () => number,
    edits = true,
    helpers?: Helpers,
  ) {
    this.evaluator = new Evaluator(Arena.forShot(size.width, size.height, helpers), new Store(memoryLimit), clock, edits);
  }

  private readonly chains: Chains = new Map();
  /** Chains of rows that are no longer there are let go. */
  private chainsOf(shot: Shot): Chains {
    if (this.chains.size > MOST_CHAINS) {
      const drawn = new Set(drawnRows(shot).rows.map((row) => row.id));
      for (const id of this.chains.keys()) if (!drawn.has(id)) this.chains.delete(id);
    }
    return this.chains;
  }

  /** What must be computed for a picture. Pictures whose steps have equal keys are equal, to the bit. */
  async plan(request: FrameRequest): Promise<Step<Picture>> {
    const { compare } = request,
      step = await this.planOne(request);
    if (!compare || (compare.with.kind === 'clip' && !request.shot.clips[compare.with.clip])) return step;
    const other = await this.planOne(
      compare.with.kind === 'frame'
        ? { ...request, frame: compare.with.frame }
        : { ...request, plain: compare.with.kind === 'clip' ? compare.with.clip : true, matte: null, skin: null, upTo: null },
    );
    return combine(`compare ${JSON.stringify(compare)}`, [step, other], ([n, f]: [Picture, Picture], arena: Arena) =>
      compared(n, f, compare, arena),
    ) as Step<Picture>;
  }
  private async planOne({ shot, frame, factor = 1, upTo, plain, matte, skin }: FrameRequest): Promise<Step<Picture>> {
    const tracks = await loadTracks(shot, this.sources),
      of = (what: boolean | string | undefined) =>
        planFrame({ shot, tracks, sources: this.sources, frame, factor, upTo, plain: what, chains: this.chainsOf(shot) }),
      step = skin && shot.clips[skin.clip] ? skinned(of(plain), of(skin.clip), skin.how) : of(plain),
      found = matte ? shot.mattes[matte.id] : undefined;
    if (!matte || !found) return step;
    const world = sceneAt(shot, tracks, this.sources, frame, factor),
      maskAt = (at: number) => (plain ? matteInBase(world, found, at, factor) : matteStep(world, found, at, factor)),
      key = matte.view === 'cut out' ? backingOf(found) : null,
      clean = matte.view === 'cut out' && matte.ground === 'the clean plate' ? clipWithRole(shot, 'clean') : undefined,
      beside = frame > shot.first && frame < shot.last ? [maskAt(frame - 1), maskAt(frame + 1)] : [],
      others: Step[] = matte.view === 'unsure' ? beside : clean ? [of(clean.id)] : [];
    return combine(
      `view ${matte.view} ${matte.ground} ${JSON.stringify(key)}`,
      [step, maskAt(frame), ...others],
      ([p, m, ...more]: [Picture, Plane, ...Plane[]], arena: Arena) => {
        const cut = key && cutFree(p, m, key, 1, arena),
          out = viewMatte(p, m, { ...matte, cut }, more, arena);
        if (cut) arena.give(cut);
        return out;
      },
    ) as Step<Picture>;
  }

  /**
   * Draws a frame and hands it to `use`; the picture goes back to the arena afterwards.
   * @throws Cancelled, or an Error in plain words where a medium is missing.
   */
  async renderFrame<R>(request: FrameRequest, use: (picture: Picture, report: Report, pictures: Arena) => R): Promise<R> {
    return this.evaluator.evaluate(await this.plan(request), use, request.cancelled, request.playhead);
  }

  /** A matte alone at a frame, handed to `use`. */
  async renderMatte<R>(shot: Shot, id: string, frame: number, factor: Factor, use: (matte: Plane) => R): Promise<R> {
    const matte = shot.mattes[id];
    if (!matte) throw new Error(`There is no matte "${id}" in this shot.`);
    return this.evaluator.evaluate(
      matteStep(sceneAt(shot, await loadTracks(shot, this.sources), this.sources, frame, factor), matte, frame, factor),
      use,
    );
  }

  /** The lines in which the front of a row's arrival stands at some frames, on its body as it stands at one. */
  async frontLines(shot: Shot, id: string, frame: number, frames: readonly number[]): Promise<FrontLine[]> {
    const row = drawnRows(shot).of(id)[0],
      // Fine enough for an arm of the figure, and no finer.
      factor: Factor = !row || row.subjectPixels > 320 ? 4 : row.subjectPixels > 120 ? 2 : 1,
      step = row && frontOrderStep(shot, await loadTracks(shot, this.sources), this.sources, row, frame, factor);
    return step ? this.evaluator.evaluate(step, (order) => frontLinesIn(order, factor, reachedOn(row, frames))) : [];
  }

  /** What a matte is worth at a frame of its clip, in the clip's own picture, wherever that appears; the callback gets the plane. */
  async renderClipMatte<R>(shot: Shot, id: string, clipFrame: number, factor: Factor, use: (matte: Plane) => R): Promise<R> {
    const matte = shot.mattes[id],
      clip = matte && matteClip(shot, matte);
    if (!clip) throw new Error(matte ? `${matte.name} is drawn on no clip.` : `There is no matte "${id}" in this shot.`);
    const shown = shotFrame(shot, clip, clipFrame) ?? shot.first,
      world = sceneAt(shot, await loadTracks(shot, this.sources), this.sources, shown, factor);
    return this.evaluator.evaluate(clipMatteStep(world, matte, clip, clipFrame, shown, factor), use);
  }
}

const skinned = (near: Step<Picture>, far: Step<Picture>, how: Skin): Step<Picture> =>
  combine(`skin ${how}`, [near, far], ([n, f]: [Picture, Picture], arena: Arena) => laidOver(n, f, how, arena)) as Step<Picture>;
