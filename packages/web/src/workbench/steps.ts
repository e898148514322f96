/** The steps of the work, in their order; each is a page with its own address. */
export const steps = ['plates', 'motion', 'mattes', 'effects', 'render'] as const;
export type Step = (typeof steps)[number];
export const stepTitles: Record<Step, string> = {
  plates: 'Plates',
  motion: 'Motion',
  mattes: 'Mattes',
  effects: 'Effects',
  render: 'Render',
};
