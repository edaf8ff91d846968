// The component library's styles, written while building: the page need not make them, nor the browser read them piece by piece.
import { StyleProvider, createCache, extractStyle } from '@ant-design/cssinjs';
import * as antd from 'antd';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { type ReactNode, createElement as h } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import type { Plugin } from 'vite';

const inside = h('i');
/** Every part of the library that is used, drawn once with all that it may open. */
const drawn: Record<string, () => ReactNode> = {
  Button: () => h(antd.Button),
  Checkbox: () => h(antd.Checkbox),
  Dropdown: () => h(antd.Dropdown, { open: true, menu: { items: [{ key: 'a', label: 'a' }] }, children: inside }),
  Input: () => [h(antd.Input, { key: 'line' }), h(antd.Input.TextArea, { key: 'text' }), h(antd.Input.Password, { key: 'hidden' })],
  InputNumber: () => h(antd.InputNumber),
  Popconfirm: () => h(antd.Popconfirm, { open: true, title: 'a', children: inside }),
  Popover: () => h(antd.Popover, { open: true, children: inside }),
  Radio: () => h(antd.Radio.Group, { options: ['a'] }),
  Segmented: () => h(antd.Segmented, { options: ['a'] }),
  Select: () => h(antd.Select, { open: true }),
};
const OTHER: antd.ThemeConfig = {
  algorithm: antd.theme.darkAlgorithm,
  token: { colorPrimary: '#123456', colorBgBase: '#102030', controlHeight: 50, fontSize: 11, borderRadius: 9, motion: false },
};
const NOT_DRAWN = new Set(['ConfigProvider', 'theme']);

/** What of the library is named in the source. */
function usedIn(folder: string): Set<string> {
  const found = new Set<string>();
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    if (!/\.tsx?$/.test(entry.name)) continue;
    for (const [, names = ''] of readFileSync(join(entry.parentPath, entry.name), 'utf8').matchAll(/import \{([^}]*)\} from 'antd'/g))
      for (const name of names.split(',').map((part) => part.trim())) if (name && !name.startsWith('type ')) found.add(name);
  }
  return found;
}

function writeStyles(names: Iterable<string>, theme: antd.ThemeConfig): string {
  const cache = createCache();
  const parts = [...names].map((name) => h('div', { key: name }, drawn[name]?.()));
  renderToStaticMarkup(h(StyleProvider, { cache, children: h(antd.ConfigProvider, { theme: { ...theme, cssVar: {}, hashed: false }, children: parts }) }));
  return extractStyle(cache, { plain: true, types: 'style' });
}

export function libraryStyles(source: string): Plugin {
  const id = 'virtual:library-styles.css';
  return {
    name: 'library-styles',
    resolveId: (wanted) => (wanted === id ? `\0${id}` : undefined),
    load(wanted) {
      if (wanted !== `\0${id}`) return undefined;
      const names = [...usedIn(source)].filter((name) => !NOT_DRAWN.has(name)).sort();
      const missing = names.filter((name) => !drawn[name]);
      if (missing.length) throw new Error(`build/libraryStyles.ts does not draw ${missing.join(', ')}, so there would be no styles for it.`);
      const styles = writeStyles(names, {});
      // colours and sizes are variables, which the page sets; whatever else went by the theme would be wrong in all but one
      if (writeStyles(names, OTHER) !== styles) throw new Error('The styles of the library go by the theme, and cannot be written beforehand.');
      return styles;
    },
  };
}
