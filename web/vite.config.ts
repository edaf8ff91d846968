import react from '@vitejs/plugin-react';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

// Of which form the answers of the API are that this build can read; the server says of which its answers are.
const form = createHash('sha256')
  .update(readFileSync(fileURLToPath(new URL('./openapi.json', import.meta.url))))
  .digest('hex')
  .slice(0, 12);

// The server puts a fresh nonce in place of the marker for every page it sends.
export default defineConfig(({ command }) => ({
  base: command === 'build' ? '/static/' : '/',
  plugins: [react()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  define: { __API_FORM__: JSON.stringify(form) },
  html: { cspNonce: '__CSP_NONCE__' },
  build: { outDir: 'dist', manifest: true, cssTarget: ['chrome111', 'firefox114', 'safari16.4'], chunkSizeWarningLimit: 700 },
  test: { environment: 'node', include: ['src/**/*.test.ts'] },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.HOBREL_API_PORT ?? '8000'}` } },
}));
