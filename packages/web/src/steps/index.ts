import type { StepDefinition } from './describe';
import { effects } from './effects';
import { mattes } from './mattes';
import { motion } from './motion';
import { plates } from './plates';
import { render } from './render';

/** The steps of the work, in their order; each is a page with its own address. */
export const steps: readonly StepDefinition[] = [plates, motion, mattes, effects, render];
/** The step of an address; the effects where there is none of that name. */
export const stepOf = (id: string | undefined): StepDefinition => steps.find((step) => step.id === id) ?? effects;

export type { StepDefinition } from './describe';
