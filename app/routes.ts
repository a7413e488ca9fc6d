import { index, route, type RouteConfig } from '@react-router/dev/routes';

export default [
  index('routes/library.tsx'),
  route('studio/:takeId', 'routes/studio.tsx', [index('routes/studio-work.tsx')]),
  route('takes', 'routes/takes.ts'),
  route('takes/:takeId', 'routes/take.ts'),
  route('gather', 'routes/gather.ts'),
  route('card', 'routes/card.tsx'),
  route('card/look', 'routes/card-look.ts'),
  route('footage', 'routes/footage-list.ts'),
  route('footage/:footageId', 'routes/footage.ts'),
  route('footage/:footageId/info', 'routes/footage-info.ts'),
  route('footage/:footageId/motion', 'routes/motion.ts'),
  route('footage/:footageId/light', 'routes/light.ts'),
  route('footage/:footageId/stitch', 'routes/stitch.ts'),
  route('exports', 'routes/exports.tsx'),
  route('jobs/:jobId', 'routes/job.ts'),
  route('materials', 'routes/materials.ts'),
  route('kept', 'routes/kept.ts'),
  route('settings', 'routes/settings.tsx'),
  route('sign-in', 'routes/sign-in.tsx'),
] satisfies RouteConfig;
