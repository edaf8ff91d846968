// Changes of a step-by-step model: each gives the whole model anew, with one thing changed.
import type { Schemas } from '@/shared/api/client';

export type StepModel = Schemas['StepModel'];
export type StateQuantity = StepModel['states'][number];
export type ModelNumber = StepModel['numbers'][number];
export type RateStage = StateQuantity['stages'][number];

/** Whether what is wrong with a model is wrong with this part of it. */
export const isAbout = (trouble: Schemas['Trouble'] | null | undefined, item: string): boolean => trouble?.fields?.item === item;

const inPlace = <T extends { id: string }>(items: T[], id: string, part: Partial<T>): T[] => items.map((i) => (i.id === id ? { ...i, ...part } : i));
const without = <T extends { id: string }>(items: T[], id: string): T[] => items.filter((i) => i.id !== id);

export const changeState = (model: StepModel, id: string, part: Partial<StateQuantity>): StepModel => ({
  ...model,
  states: inPlace(model.states, id, part),
});
export const changeNumber = (model: StepModel, id: string, part: Partial<ModelNumber>): StepModel => ({
  ...model,
  numbers: inPlace(model.numbers, id, part),
});
export const removePart = (model: StepModel, id: string): StepModel => ({
  ...model,
  states: without(model.states, id),
  numbers: without(model.numbers, id),
});
export const changeStage = (model: StepModel, state: StateQuantity, id: string, part: Partial<RateStage>): StepModel =>
  changeState(model, state.id, { stages: inPlace(state.stages, id, part) });
export const removeStage = (model: StepModel, state: StateQuantity, id: string): StepModel =>
  changeState(model, state.id, { stages: without(state.stages, id) });

/** The first of some letters that nothing in a model is called yet. */
export function freeSymbol(model: StepModel, letters: string): string {
  const taken = new Set([...model.states, ...model.numbers].map((part) => part.symbol));
  const free = [...letters].find((letter) => !taken.has(letter));
  return free ?? `${letters[0]}_${taken.size}`;
}

/** With ids of its own, so that it can be taken twice. */
export const withIds = (model: StepModel, newId: () => string): StepModel => ({
  ...model,
  states: model.states.map((s) => ({ ...s, id: newId() })),
  numbers: model.numbers.map((n) => ({ ...n, id: newId() })),
});

/** Between which numbers a slider goes about one that is written: as far as nothing, and as far again. */
export function sliderEnds(value: number): { low: number; high: number; step: number } {
  const reach = Math.abs(value) || 1;
  const step = 10 ** (Math.floor(Math.log10(reach)) - 2);
  return value === 0 ? { low: -1, high: 1, step: 0.01 } : { low: Math.min(0, 2 * value), high: Math.max(0, 2 * value), step };
}

/** Where a slider stands, as somebody would write it. */
export const writeSlid = (value: number, step: number): string => String(Number(value.toFixed(Math.max(0, -Math.floor(Math.log10(step) + 1e-9)))));
