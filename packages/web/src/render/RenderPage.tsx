import { Download } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { alphaModes, formatNames, framesFor, outputFormats, passesOf, type AlphaMode, type FormatName } from '@wraithos/core/render';
import { cancelJob, isOver, listJobs, startRender, tryAgain } from '@wraithos/contract';
import { call } from '../api/client';
import { useRoute } from '../api/useRoute';
import { onServerEvent } from '../api/events';
import { BuildPlate } from '../plates/BuildPlate';
import { ChoiceField, NumberField, SwitchField } from '../settings/fields';
import { useParts } from '../state/shotStore';
import { jobStateWords, JobLine } from '../ui/JobLine';
import { useChecks } from '../workbench/useChecks';
import { bringRender } from './bringRender';
import { useMeasured } from './useMeasured';
import { useUnseen } from './useUnseen';
import './render.css';

const formatWords = Object.fromEntries(formatNames.map((name) => [name, outputFormats[name].title])) as Record<FormatName, string>;

/** Makes the finished shot: checks first, then jobs on the server, with their files. */
export function RenderPage() {
  const { id, shot, set, save } = useParts('id', 'shot', 'set', 'save'),
    checks = [...useChecks(), ...useUnseen(), ...useMeasured()],
    jobs = useRoute(listJobs, id ? { query: { shot: id } } : null),
    refresh = jobs.mutate;
  const [format, setFormat] = useState<FormatName>('png16'),
    [alpha, setAlpha] = useState<AlphaMode>('none'),
    [only, setOnly] = useState('all'),
    [burn, setBurn] = useState(false),
    [first, setFirst] = useState<number | null>(null),
    [last, setLast] = useState<number | null>(null),
    [error, setError] = useState<string | null>(null),
    [playing, setPlaying] = useState<string | null>(null);
  const jobsNow = useRef(jobs.data);
  useEffect(() => {
    jobsNow.current = jobs.data;
  });
  useEffect(
    () =>
      onServerEvent((event) => {
        if (event.type === 'again') void refresh();
        if (event.type !== 'job' || event.shot !== id) return;
        // What is under way is told by the event; a job that is new, or over, is looked up with its result.
        const open = !isOver(event.state);
        void refresh((now) => now?.map((job) => (job.id === event.id ? { ...job, ...event } : job)), { revalidate: false });
        if (!open || !jobsNow.current?.some((job) => job.id === event.id)) void refresh();
      }),
    [id, refresh],
  );
  if (!shot) return null;
  const passes = passesOf(shot),
    from = first ?? shot.first,
    to = last ?? shot.last,
    wanted = framesFor(outputFormats[format], from, to).length,
    burns = outputFormats[format].bits !== 'half',
    empty = Object.keys(shot.clips).length === 0;
  const start = async () => {
    setError(null);
    try {
      const carried = !outputFormats[format].alpha ? 'none' : format === 'exr' && alpha === 'straight' ? 'premultiplied' : alpha;
      await call(startRender, {
        body: {
          shot: id!,
          format,
          first: from,
          last: to,
          alpha: carried,
          only: passes.some((p) => p.pass === only) ? only : 'all',
          burn: burn && burns,
        },
      });
    } catch (problem) {
      setError((problem as Error).message);
    }
  };
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => refresh(),
      (problem: Error) => setError(problem.message),
    );
  const inside = (n: number) => Math.min(shot.last, Math.max(shot.first, Math.round(n)));
  return (
    <main className="render-page">
      <section aria-label="New render">
        <h2>Render {shot.code}</h2>
        <div className="quiet mb-2">
          Full size, {shot.width} x {shot.height}; matches the viewer exactly.
        </div>
        <ChoiceField label="Format" value={format} of={formatNames} words={formatWords} onChange={(f: FormatName) => setFormat(f)} />
        {outputFormats[format].alpha && (
          <ChoiceField
            label="Alpha"
            value={alpha}
            of={format === 'exr' ? (['none', 'premultiplied'] as const) : alphaModes}
            words={{ none: 'none, on black' }}
            help="Straight: colours as they are beside their cover. Premultiplied: colours times their cover."
            onChange={(mode) => setAlpha(mode as AlphaMode)}
          />
        )}
        <ChoiceField
          label="Picture"
          value={passes.some((p) => p.pass === only) ? only : 'all'}
          of={passes.map((p) => p.pass as string)}
          words={Object.fromEntries(passes.map((p) => [p.pass, p.title]))}
          onChange={setOnly}
        />
        <NumberField label="From frame" value={from} onChange={(v) => setFirst(inside(v))} />
        <NumberField label="To frame" value={to} onChange={(v) => setLast(inside(v))} />
        {burns && (
          <SwitchField
            label="Frame burnt in"
            help="The shot's code, the frame and the revision at the lower left of each picture."
            checked={burn}
            onChange={setBurn}
          />
        )}
        <button
          type="button"
          className="btn btn-primary mt-2 w-100"
          disabled={empty || save !== 'saved' || from > to}
          onClick={() => void start()}
        >
          Render {wanted === 1 ? '1 frame' : `${wanted} frames`}
        </button>
        {empty && <div className="quiet mt-1">This shot has no clip yet.</div>}
        {error && (
          <div role="alert" className="mt-2 bad">
            {error}
          </div>
        )}
        <h3 className="mt-4">Checks</h3>
        {checks.length === 0 && <div className="quiet">Nothing found.</div>}
        {checks.map((c) => (
          <div key={c.id + c.text} className="mb-2">
            <span className="bad">! </span>
            {c.text} <span className="quiet">{c.fix}</span>
            {c.mend === 'clean plate' && <BuildPlate />}
            {c.frame !== undefined && (
              <button
                type="button"
                className="btn btn-link btn-sm p-0 ms-1"
                onClick={() =>
                  set({
                    frame: c.frame,
                    ...(c.row ? { selection: { kind: 'row', id: c.row } } : c.matte ? { selection: { kind: 'matte', id: c.matte } } : {}),
                  })
                }
              >
                Go to {c.frame}
              </button>
            )}
          </div>
        ))}
      </section>
      <section aria-label="Renders">
        <h2>Renders of this shot</h2>
        {jobs.data?.length === 0 && <div className="empty">None yet. What you render appears here, to download and to play.</div>}
        {jobs.data?.map((job) => {
          const open = job.state === 'waiting' || job.state === 'running',
            file = typeof job.result?.file === 'string' ? job.result.file : null;
          return (
            <article key={job.id} className="job" aria-label={job.title}>
              {open ? (
                <JobLine
                  label={job.title}
                  done={job.done}
                  total={job.total}
                  secondsLeft={job.secondsLeft}
                  message={job.message}
                  onCancel={() => void call(cancelJob, { params: { id: job.id } }).catch((e: Error) => setError(e.message))}
                />
              ) : (
                <div className="d-flex align-items-center gap-2">
                  <div className="flex-grow-1">
                    <div>{job.title}</div>
                    <div className="quiet num">
                      {jobStateWords[job.state]}
                      {job.result
                        ? ` · ${String(job.result.frames)} frames · ${(Number(job.result.bytes) / 1e6).toFixed(1)} MB · ${String(job.result.millisecondsPerFrame)} ms a frame`
                        : ''}
                      {job.message ? ` · ${job.message}` : ''}
                    </div>
                  </div>
                  {(job.state === 'failed' || job.state === 'parked' || job.state === 'cancelled') && (
                    <button type="button" className="btn btn-quiet btn-sm" onClick={() => act(call(tryAgain, { params: { id: job.id } }))}>
                      Try again
                    </button>
                  )}
                  {file && job.input.format && outputFormats[job.input.format].plays && (
                    <button type="button" className="btn btn-quiet btn-sm" onClick={() => setPlaying(playing === job.id ? null : job.id)}>
                      {playing === job.id ? 'Close' : 'Play'}
                    </button>
                  )}
                  {file && (
                    <button
                      type="button"
                      className="btn btn-quiet btn-sm"
                      title="Its frames become a clip of this shot, to compare with"
                      onClick={() => void bringRender(job.id, job.input.first ?? shot.first).catch((e: Error) => setError(e.message))}
                    >
                      As a reference
                    </button>
                  )}
                  {file && (
                    <a className="btn btn-quiet btn-sm" href={`/api/jobs/${job.id}/file`} download>
                      <Download size={14} className="me-1" />
                      Download
                    </a>
                  )}
                </div>
              )}
              {playing === job.id && (
                <video
                  src={`/api/jobs/${job.id}/file?play=1`}
                  controls
                  loop
                  autoPlay
                  muted
                  style={{ width: '100%', marginTop: 10, background: 'var(--surround)' }}
                />
              )}
            </article>
          );
        })}
      </section>
    </main>
  );
}
