import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

// What most pages need comes in one file, in place of a file for each set of
// pages that share something: half as many requests.
const base = {
  name: 'base',
  test: /node_modules[\\/](react|react-dom|react-router|scheduler|@emotion|@tanstack|@mui[\\/](material|system|utils|styled-engine|private-theming))[\\/]/,
};

// The nonce mark is replaced by the server in every page that it answers.
export default defineConfig({
  plugins: [react()],
  html: { cspNonce: 'CSP_NONCE' },
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700, rolldownOptions: { output: { codeSplitting: { groups: [base] } } } },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
});
