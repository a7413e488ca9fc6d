import { reactRouter } from '@react-router/dev/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [tailwindcss(), reactRouter()],
  resolve: { tsconfigPaths: true },
  build: {
    chunkSizeWarningLimit: 1200,
    rollupOptions: isSsrBuild ? { input: './server/app.ts' } : undefined,
  },
  ssr: { noExternal: [/^@glimbo\//] },
  optimizeDeps: {
    include: ['d3', 'radix-ui', 'lucide-react', 'class-validator', 'class-transformer', 'reflect-metadata'],
    exclude: ['knex', 'better-sqlite3'],
  },
}));
