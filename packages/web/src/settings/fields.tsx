import { RotateCcw, Spline } from 'lucide-react';
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react';
import { arithmetic } from './arithmetic';

export interface NumberFieldProps {
  label: string;
  value: number;
  unit?: string;
  range?: readonly [number, number];
  step?: number;
  help?: string;
  changed?: boolean;
  curved?: boolean;
  /** While it is dragged; null when the drag is given up. */
  onPreview?(value: number): void;
  onChange(value: number): void;
  onReset?(): void;
  onCurve?(): void;
}
/** What several forms on one page tell their fields apart by. */
export const FieldScope = createContext('');
const useFieldId = (label: string): string => `field-${`${useContext(FieldScope)}${label}`.replace(/\W+/g, '-').toLowerCase()}`;
const decimals = (step: number): number => (step >= 1 ? 0 : step >= 0.1 ? 1 : step >= 0.01 ? 2 : 3);

/** A number: typed (also as arithmetic), dragged sideways by its label, nudged with the arrow keys (Shift fine, Alt coarse). */
export function NumberField({
  label,
  value,
  unit,
  range,
  step = 1,
  help,
  changed,
  curved,
  onPreview,
  onChange,
  onReset,
  onCurve,
}: NumberFieldProps) {
  const [text, setText] = useState<string | null>(null),
    drag = useRef<{ x: number; from: number; last: number } | null>(null),
    givenUp = useRef(false);
  const tidy = (n: number) => {
    const clamped = range ? Math.min(range[1], Math.max(range[0], n)) : n;
    return Number(clamped.toFixed(4));
  };
  const shown = Number(value.toFixed(Math.max(decimals(step), Number.isInteger(value) ? 0 : 1))).toString();
  const finish = () => {
    if (text === null || givenUp.current) return;
    const n = arithmetic(text);
    setText(null);
    if (n !== null && tidy(n) !== value) onChange(tidy(n));
  };
  const fineness = (e: { shiftKey: boolean; altKey: boolean }) => (e.shiftKey ? 0.1 : e.altKey ? 10 : 1);
  const id = useFieldId(label);
  return (
    <div className="field" title={help}>
      <label
        htmlFor={id}
        onPointerDown={(e) => {
          if (e.button) return;
          e.preventDefault();
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { x: e.clientX, from: value, last: value };
        }}
        onPointerMove={(e) => {
          const d = drag.current;
          if (!d) return;
          const next = tidy(
            Math.round((d.from + (e.clientX - d.x) * step * 0.5 * fineness(e)) / (step * Math.min(1, fineness(e)))) *
              (step * Math.min(1, fineness(e))),
          );
          if (next !== d.last) {
            d.last = next;
            onPreview?.(next);
          }
        }}
        onPointerUp={() => {
          const d = drag.current;
          drag.current = null;
          if (d && d.last !== d.from) onChange(d.last);
        }}
      >
        {label}
      </label>
      <FieldMarks label={label} changed={changed} curved={curved} onReset={onReset} onCurve={onCurve} />
      <span className={`box num ${curved ? 'curved' : ''}`}>
        <input
          id={id}
          inputMode="decimal"
          autoComplete="off"
          value={text ?? shown}
          onChange={(e) => setText(e.target.value)}
          onFocus={(e) => e.target.select()}
          onBlur={finish}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              finish();
              e.currentTarget.select();
            } else if (e.key === 'Escape') {
              setText(null);
              // Leaving the field comes at once, before the text is gone, and would take it.
              givenUp.current = true;
              e.currentTarget.blur();
              givenUp.current = false;
              e.stopPropagation();
            } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
              e.preventDefault();
              onChange(tidy((arithmetic(text ?? shown) ?? value) + (e.key === 'ArrowUp' ? 1 : -1) * step * fineness(e)));
              setText(null);
            }
          }}
        />
        {unit && <span className="unit">{unit}</span>}
      </span>
    </div>
  );
}

export function ChoiceField<V extends string>({
  label,
  value,
  of,
  help,
  onChange,
  words,
}: {
  label: string;
  value: V;
  of: readonly V[];
  help?: string;
  onChange(value: V): void;
  words?: Partial<Record<V, string>>;
}) {
  const id = useFieldId(label);
  return (
    <div className="field" title={help}>
      <label className="still" htmlFor={id}>
        {label}
      </label>
      <select id={id} className="form-select form-select-sm" value={value} onChange={(e) => onChange(e.target.value as V)}>
        {of.map((v) => (
          <option key={v} value={v}>
            {words?.[v] ?? v}
          </option>
        ))}
      </select>
    </div>
  );
}

/** Something that is on or off. */
export function SwitchField({
  label,
  checked,
  help,
  disabled,
  onChange,
}: {
  label: string;
  checked: boolean;
  help?: string;
  disabled?: boolean;
  onChange(on: boolean): void;
}) {
  const id = useFieldId(label);
  return (
    <div className="field" title={help}>
      <label className="still" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        className="form-check-input"
        type="checkbox"
        checked={checked}
        disabled={disabled}
        onChange={(e) => onChange(e.target.checked)}
      />
    </div>
  );
}

export function ColourField({
  label,
  value,
  help,
  changed,
  onPreview,
  onChange,
  onReset,
}: {
  label: string;
  value: string;
  help?: string;
  changed?: boolean;
  onPreview?(v: string): void;
  onChange(v: string): void;
  onReset?(): void;
}) {
  const [now, setNow] = useState(value),
    id = useFieldId(label),
    input = useRef<HTMLInputElement>(null);
  useEffect(() => setNow(value), [value]);
  // The picker tells every move; `change` in the DOM's own sense comes once, when it is done.
  useEffect(() => {
    const el = input.current!,
      done = () => {
        if (el.value !== value) onChange(el.value);
      };
    el.addEventListener('change', done);
    return () => el.removeEventListener('change', done);
  });
  return (
    <div className="field" title={help}>
      <label className="still" htmlFor={id}>
        {label}
      </label>
      <FieldMarks label={label} changed={changed} onReset={onReset} />
      <span className="num quiet">{now}</span>
      <input
        ref={input}
        id={id}
        type="color"
        value={now}
        onInput={(e) => {
          const v = (e.target as HTMLInputElement).value;
          setNow(v);
          onPreview?.(v);
        }}
        readOnly={false}
        onChange={() => undefined}
      />
    </div>
  );
}

export function PairField({
  label,
  value,
  unit,
  help,
  changed,
  curved,
  onChange,
  onReset,
  onCurve,
}: {
  label: string;
  value: readonly [number, number];
  unit?: string;
  help?: string;
  changed?: boolean;
  curved?: boolean;
  onChange(value: [number, number]): void;
  onReset?(): void;
  onCurve?(): void;
}) {
  const one = (i: 0 | 1) => (
    <PairPart
      key={i}
      label={`${label} ${i ? 'down' : 'right'}`}
      value={value[i]}
      onChange={(v) => onChange(i ? [value[0], v] : [v, value[1]])}
    />
  );
  return (
    <div className="field" title={help}>
      <label className="still">{label}</label>
      <FieldMarks label={label} changed={changed} curved={curved} onReset={onReset} onCurve={onCurve} />
      <span className={`box pair num ${curved ? 'curved' : ''}`}>
        {one(0)}
        {one(1)}
        <span className="unit">{unit}</span>
      </span>
    </div>
  );
}

/** The quiet marks beside a value: back to the usual one, and over time. */
function FieldMarks({
  label,
  changed,
  curved,
  onReset,
  onCurve,
}: {
  label: string;
  changed?: boolean;
  curved?: boolean;
  onReset?(): void;
  onCurve?(): void;
}) {
  return (
    <>
      {changed && onReset && (
        <button
          type="button"
          className="icon-button mark"
          title={`Back to the usual ${label.toLowerCase()}`}
          aria-label={`Reset ${label}`}
          onClick={onReset}
        >
          <RotateCcw size={12} />
        </button>
      )}
      {onCurve && (
        <button
          type="button"
          className={`icon-button mark ${curved ? 'on' : ''}`}
          title={curved ? 'Put a curve point at this frame' : 'Over time: make a curve of it'}
          aria-label={curved ? `Curve point for ${label}` : `${label} over time`}
          onClick={onCurve}
        >
          <Spline size={13} />
        </button>
      )}
    </>
  );
}
function PairPart({ label, value, onChange }: { label: string; value: number; onChange(v: number): void }) {
  const [text, setText] = useState<string | null>(null),
    finish = () => {
      if (text === null) return;
      const n = arithmetic(text);
      setText(null);
      if (n !== null) onChange(n);
    };
  return (
    <input
      aria-label={label}
      value={text ?? String(Math.round(value * 10) / 10)}
      onChange={(e) => setText(e.target.value)}
      onBlur={finish}
      onKeyDown={(e) => {
        if (e.key === 'Enter') finish();
      }}
    />
  );
}

export function Fold({ title, children }: { title: string; children: ReactNode }) {
  return (
    <details className="mt-2">
      <summary className="quiet">{title}</summary>
      {children}
    </details>
  );
}
