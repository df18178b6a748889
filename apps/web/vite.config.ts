import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['@sobrin/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  server: { proxy: { '/api': process.env.API_URL ?? 'http://127.0.0.1:3000' } },
  // The server puts a new one into each page that it sends: see apps/server/src/platform/page.ts.
  html: { cspNonce: 'SOBRIN_NONCE' },
  // The largest piece by far makes PDFs; it is loaded when something is printed.
  build: { target: 'es2022', chunkSizeWarningLimit: 2500 },
});
