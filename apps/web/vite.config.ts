import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** Isolation lets the worker share memory with the page; the policy forbids inline scripts and `eval`. */
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
};
const policy = [
  "default-src 'self'",
  // Formulas become WebAssembly; this does not allow `eval`.
  "script-src 'self' 'wasm-unsafe-eval'",
  "worker-src 'self'",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "connect-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'none'",
  "form-action 'none'",
  "frame-ancestors 'none'",
].join('; ');

export default defineConfig({
  plugins: [react(), tailwindcss()],
  server: { headers: isolation },
  preview: {
    headers: { ...isolation, 'Content-Security-Policy': policy, 'X-Content-Type-Options': 'nosniff' },
  },
  worker: { format: 'es' },
  // Nothing is inlined: the content security policy takes fonts and scripts from files only.
  build: { target: 'es2023', chunkSizeWarningLimit: 1500, assetsInlineLimit: 0 },
});
