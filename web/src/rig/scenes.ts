// How each rig is drawn.
import type { ComponentType } from 'react';
import type { Schemas } from '@/shared/api/client';
import { BandScene } from './BandScene';
import { CountScene } from './CountScene';
import { FanScene } from './FanScene';
import { RingScene } from './RingScene';
import { SaltScene } from './SaltScene';
import { SeedScene } from './SeedScene';
import { TeaScene } from './TeaScene';
import { TimingScene } from './TimingScene';

export interface SceneProps {
  /** Where its parts are; names are the rig's own. */
  scene: Readonly<Record<string, string>>;
  /** What a face shows now. */
  shown: (face: string) => string;
  /** Seconds since the moment that the scene is of. */
  elapsed: () => number;
  controls: readonly Schemas['Control'][];
  onPress: (control: Schemas['Control']) => void;
}

export const scenes: Record<string, ComponentType<SceneProps> | undefined> = {
  'salt-in-pools': SaltScene,
  'ring-on-turntable': RingScene,
  'winged-seed': SeedScene,
  'iron-in-tea': TeaScene,
  'fan-on-supply': FanScene,
  'timing-by-hand': TimingScene,
  'count-rate': CountScene,
  'elastic-band': BandScene,
};
