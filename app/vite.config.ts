import { reactRouter } from '@react-router/dev/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [tailwindcss(), reactRouter()],
  resolve: { tsconfigPaths: true, dedupe: ['react', 'react-dom'] },
  build: {
    chunkSizeWarningLimit: 1200,
    rollupOptions: isSsrBuild ? { input: './server/start.ts' } : undefined,
  },
  ssr: { noExternal: [/^@glimbo\//] },
  optimizeDeps: {
    // All that the browser gets: what is found only when a page is opened would have it loaded anew.
    include: [
      '@tanstack/react-virtual',
      '@use-gesture/react',
      'class-validator',
      'cmdk',
      'd3',
      'lucide-react',
      'radix-ui',
      'react-resizable-panels',
      'reflect-metadata',
      'sonner',
      'tinykeys',
      'tus-js-client',
      'zustand',
    ],
    exclude: ['knex', 'better-sqlite3'],
  },
}));
