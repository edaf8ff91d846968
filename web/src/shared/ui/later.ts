// Parts of the application whose code is loaded when they are wanted.
import { type ComponentType, type LazyExoticComponent, createElement, lazy, useState } from 'react';

export type Later<P extends object> = ComponentType<P> & { bring: () => Promise<unknown>; forget: () => void };

/**
 * What is here is drawn at once. Only what is not yet here is waited for within the page, because what is drawn meanwhile stays for a third
 * of a second at least. What could not be had stays away until it is forgotten, and is then asked for anew.
 */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): Later<P> {
  let here: ComponentType<P> | null = null;
  let coming: LazyExoticComponent<ComponentType<P>> | null = null;
  const bring = async () => {
    here ??= await load();
    return { default: here };
  };
  const forget = () => {
    coming = null;
  };
  function Drawn(props: P) {
    const [Part] = useState<ComponentType<P>>(() => here ?? (coming ??= lazy(bring)));
    return createElement(Part, props);
  }
  return Object.assign(Drawn, { bring, forget });
}
