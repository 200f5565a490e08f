import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  server: {
    port: Number(process.env.WEB_PORT ?? 5173),
    proxy: {
      '/api': {
        target: `http://127.0.0.1:${process.env.API_PORT ?? 4310}`,
        // The server takes changes from pages of the host that was asked: that is this one.
        changeOrigin: false,
      },
    },
  },
  build: { chunkSizeWarningLimit: 900 },
});
