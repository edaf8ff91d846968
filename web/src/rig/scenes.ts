// How each rig is drawn.
import type { ComponentType } from 'react';
import type { Schemas } from '@/shared/api/client';
import { SaltScene } from './SaltScene';

export interface SceneProps {
  /** Where its parts are; names are the rig's own. */
  scene: Readonly<Record<string, string>>;
  /** What a face shows now. */
  shown: (face: string) => string;
  controls: readonly Schemas['Control'][];
  onPress: (control: Schemas['Control']) => void;
}

export const scenes: Record<string, ComponentType<SceneProps> | undefined> = { 'salt-in-pools': SaltScene };
