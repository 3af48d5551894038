import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

// The nonce mark is replaced by the server in every page that it answers.
export default defineConfig({
  plugins: [react()],
  html: { cspNonce: 'CSP_NONCE' },
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 600 },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
});
