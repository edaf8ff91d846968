import react from '@vitejs/plugin-react';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';
import { libraryStyles } from './build/libraryStyles.ts';

// Of which form the answers of the API are that this build can read; the server says of which its answers are.
const form = createHash('sha256')
  .update(readFileSync(fileURLToPath(new URL('./openapi.json', import.meta.url))))
  .digest('hex')
  .slice(0, 12);

// What draws every page is sent for with the page, before the code that asks for it has run.
const sentAlong: Plugin = {
  name: 'sent-along',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle = {} }) =>
      Object.values(bundle)
        .filter((file) => file.type === 'chunk' && file.name === 'start')
        .map(({ fileName }) => ({ tag: 'link', attrs: { rel: 'modulepreload', crossorigin: true, href: `/static/${fileName}` }, injectTo: 'head' as const })),
  },
};

// Browsers that know this word make their code ready beside the page instead of within it, a function at a time; to the others it is a comment.
const madeReady: Plugin = {
  name: 'made-ready',
  generateBundle: {
    order: 'post',
    handler: (_, bundle) => {
      for (const file of Object.values(bundle))
        if (file.type === 'chunk' && (file.name === 'start' || file.name === 'desk')) file.code = `//# allFunctionsCalledOnLoad\n${file.code}`;
    },
  },
};

// The server puts a fresh nonce in place of the marker for every page it sends.
export default defineConfig(({ command }) => ({
  base: command === 'build' ? '/static/' : '/',
  plugins: [react(), libraryStyles(fileURLToPath(new URL('./src', import.meta.url))), sentAlong, madeReady],
  resolve: {
    alias: {
      '@look': fileURLToPath(new URL('../hobrel/reports/graph_look.json', import.meta.url)),
      '@': fileURLToPath(new URL('./src', import.meta.url)),
    },
  },
  define: { __API_FORM__: JSON.stringify(form) },
  html: { cspNonce: '__CSP_NONCE__' },
  build: {
    outDir: 'dist',
    manifest: true,
    cssTarget: ['chrome111', 'firefox114', 'safari16.4'],
    chunkSizeWarningLimit: 700,
    // one file of style; the desk of the first lesson in few files, each with what it needs
    cssCodeSplit: false,
    modulePreload: { polyfill: false },
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'first', test: /src\/app\/main\.ts$/, priority: 4 },
            { name: 'start', test: /src\/app\/start\.tsx$/, priority: 3 },
            { name: 'desk', test: /src\/(app\/BookPage|read\/Read)\.tsx$/, priority: 1 },
          ],
        },
      },
    },
  },
  test: { environment: 'node', isolate: false, pool: 'threads', include: ['src/**/*.test.ts'], testTimeout: 20_000 },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.HOBREL_API_PORT ?? '8000'}` } },
}));
