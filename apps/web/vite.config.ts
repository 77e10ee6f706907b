import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** Isolation lets the worker share memory with the page; the policy forbids inline scripts and `eval`. */
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
};
const policy = (script = '', connect = '') =>
  [
    "default-src 'self'",
    // Formulas become WebAssembly; this does not allow `eval`.
    `script-src 'self' 'wasm-unsafe-eval'${script}`,
    "worker-src 'self'",
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    `connect-src 'self' blob:${connect}`,
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');

const headers = (contentPolicy: string) => ({
  ...isolation,
  'Content-Security-Policy': contentPolicy,
  'X-Content-Type-Options': 'nosniff',
});
/** The one script that the development server writes into the page is known by this. */
const NONCE = 'development';

export default defineConfig(({ command, isPreview }) => ({
  plugins: [react(), tailwindcss()],
  // The same policy as the built application has, but for that script and the wire by which it hears of changes.
  server: { headers: headers(policy(` 'nonce-${NONCE}'`, ' ws:')) },
  ...(command === 'serve' && !isPreview && { html: { cspNonce: NONCE } }),
  preview: { headers: headers(policy()) },
  worker: { format: 'es' },
  // Nothing is inlined: the content security policy takes fonts and scripts from files only.
  build: { target: 'es2023', chunkSizeWarningLimit: 1500, assetsInlineLimit: 0 },
}));
