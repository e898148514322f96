import { Pipette } from 'lucide-react';
import { storedAt, type Param, type Params, type StoredValue } from '@wraithos/core/effects';
import type { Edit, Row } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { ChoiceField, ColourField, Fold, NumberField, PairField } from './fields';

/** What a form of parameters reads and changes: a row with curves, or a twin or treatment without. */
export interface ParamTarget {
  values: Readonly<Record<string, StoredValue>>;
  /** What a parameter is where `values` has none, and what its reset mark leads back to. */
  usual(name: string, p: Param<unknown>): StoredValue;
  put(name: string, value: StoredValue): Edit;
  reset(name: string): Edit;
  /** Lets a colour be picked on the picture: which one is being picked, and how that begins. */
  pick?: { picking: string | null; start(name: string): void };
  curves?: {
    of: Row['curves'];
    inRow: number;
    /** Sets a point of it at this frame. */
    set(name: string, value: number): Edit;
    setPoint(name: string, value: readonly [number, number]): Edit;
    /** Makes a curve of a parameter, or (null) a plain value again. */
    make(name: string, value: number | null): Edit;
    makePoint(name: string, value: readonly [number, number] | null): Edit;
  };
}

/** A form of values without curves, whose reset marks lead back to the defaults. */
export const plainTarget = (
  params: Params,
  values: unknown,
  put: (name: string, value: StoredValue) => Edit,
  pick?: ParamTarget['pick'],
): ParamTarget => ({
  values: values as Record<string, StoredValue>,
  usual: (_, p) => p.default as StoredValue,
  put,
  reset: (name) => put(name, params[name]!.default as StoredValue),
  ...(pick ? { pick } : {}),
});

function ParamField({ name, p, target }: { name: string; p: Param<unknown>; target: ParamTarget }) {
  const { edit, preview } = useParts('edit', 'preview'),
    usual = target.usual(name, p),
    stored = target.values[name] ?? usual,
    curves = target.curves?.of ?? {},
    inRow = target.curves?.inRow ?? 0,
    now = storedAt(name, stored, curves, inRow),
    changed = JSON.stringify(stored) !== JSON.stringify(usual);
  const put = (v: StoredValue) => target.put(name, v),
    reset = () => edit(target.reset(name));
  if (p.kind === 'choice')
    return <ChoiceField label={p.title} help={p.help} value={String(now)} of={p.of!} onChange={(v) => edit(put(v))} />;
  if (p.kind === 'colour')
    return (
      <>
        <ColourField
          label={p.title}
          help={p.help}
          value={String(now)}
          changed={changed}
          onPreview={(v) => preview(put(v))}
          onChange={(v) => edit(put(v))}
          onReset={reset}
        />
        {p.picked && target.pick && (
          <button
            type="button"
            className={`btn btn-quiet btn-sm mb-1 ${target.pick.picking === name ? 'active' : ''}`}
            onClick={() => target.pick!.start(name)}
          >
            <Pipette size={12} className="me-1" />
            Pick it on the picture
          </button>
        )}
      </>
    );
  if (p.kind === 'point') {
    const curved = !!(curves[`${name}.x`] ?? curves[`${name}.y`]),
      at = now as [number, number],
      over = target.curves;
    return (
      <PairField
        label={p.title}
        help={p.help}
        unit={p.unit}
        value={at}
        changed={changed || curved}
        curved={curved}
        onChange={(v) => edit(over ? over.setPoint(name, v) : put(v))}
        onReset={() => edit(curved && over ? over.makePoint(name, null) : target.reset(name))}
        onCurve={p.curve && over ? () => edit(curved ? over.setPoint(name, at) : over.makePoint(name, at)) : undefined}
      />
    );
  }
  const curve = curves[name],
    over = target.curves,
    value = now as number,
    change = (v: number) => (curve && over ? over.set(name, v) : put(v));
  return (
    <NumberField
      label={p.title}
      help={p.help}
      unit={p.unit}
      range={p.range}
      step={p.step}
      value={value}
      changed={changed || !!curve}
      curved={!!curve}
      onPreview={(v) => preview(change(v))}
      onChange={(v) => edit(change(v))}
      onReset={() => edit(curve && over ? over.make(name, null) : target.reset(name))}
      onCurve={p.curve && over ? () => edit(over.make(name, value)) : undefined}
    />
  );
}

/** Fields for parameters, by their groups; rare ones fold away. `title` names those that have no group. */
export function ParamFields({
  params,
  target,
  title,
  between,
}: {
  params: Params;
  target: ParamTarget;
  title: string;
  between?: React.ReactNode;
}) {
  const shown = Object.entries(params).filter(
      ([, p]) => !p.when || p.when.is.includes(String(target.values[p.when.param] ?? params[p.when.param]!.default)),
    ),
    groups = new Map<string, [string, Param<unknown>][]>(),
    rare = shown.filter(([, p]) => p.rare);
  for (const entry of shown.filter(([, p]) => !p.rare))
    groups.set(entry[1].group ?? '', [...(groups.get(entry[1].group ?? '') ?? []), entry]);
  const field = ([name, p]: [string, Param<unknown>]) => <ParamField key={name} name={name} p={p} target={target} />;
  return (
    <>
      {[...groups].map(([group, entries]) => (
        <div key={group}>
          {(group || title) && <h3>{group || title}</h3>}
          {entries.map(field)}
        </div>
      ))}
      {between}
      {rare.length > 0 && <Fold title="More">{rare.map(field)}</Fold>}
    </>
  );
}
