import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

// The nonce mark is replaced by the server in every page that it answers.
export default defineConfig({
  plugins: [react()],
  html: { cspNonce: 'CSP_NONCE' },
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 600, rolldownOptions: { output: { codeSplitting: { groups: [{ name: 'base', test: /node_modules[\\/](react|react-dom|react-router|scheduler|@emotion|@tanstack|@mui[\\/](material|system|utils|styled-engine|private-theming))[\\/]/ }] } } } },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
});
