import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { UPLOADS } from '@wraithos/contract';
import type { Services } from '../services';
import { health } from './health';
import { shallow } from './depth';
import { Problem, problems, unknownRoute } from './problem';
import { jobRoutes } from './routes/jobs';
import { plateRoutes } from './routes/plates';
import { mediaRoutes } from './routes/media';
import { recipeRoutes } from './routes/recipes';
import { roomRoutes } from './routes/room';
import { bundleRoutes } from './routes/bundles';
import { shotRoutes } from './routes/shots';
import { stockroomRoutes } from './routes/stockroom';
import { uploadHandler } from './uploads';

/** Bytes of one JSON request. */
const MOST_JSON = 32 * 2 ** 20;
/** How long a request waits for the database, milliseconds. */
const DATABASE_WAIT_MS = 15_000;

/** The worker that finds faces and persons: its packages make functions from text, which no page may. It has no page, and reads nothing that people bring. */
const FINDERS = /^\/assets\/finders\.worker-[\w-]+\.js$/;
const LOCAL = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** The application over HTTP. `webFolder` holds the built pages. */
export function createApp(services: Services, webFolder: string | null): Express {
  const app = express();
  app.disable('x-powered-by');
  // What may be kept is kept by its name; a hash of every answer helps nobody here.
  app.disable('etag');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", ({ url = '' }) => (FINDERS.test(url) ? "'unsafe-eval'" : "'wasm-unsafe-eval'")],
          workerSrc: ["'self'", 'blob:'],
          imgSrc: ["'self'", 'data:', 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'", 'data:'],
          mediaSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
        },
      },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginResourcePolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
    }),
  );
  // Only pages of this very address may talk to us: other sites, and names that point here, may not.
  app.use((request, _response, next) => {
    const host = request.headers.host ?? '',
      origin = request.headers.origin;
    if (!LOCAL.test(host) || (origin && origin !== `http://${host}`))
      next(
        new Problem(
          403,
          'foreign',
          'Requests from other addresses are refused. Open Wraithos at the address that its terminal shows, on this machine.',
        ),
      );
    else next();
  });
  app.use('/api', rateLimit({ windowMs: 1000, limit: 2000, standardHeaders: false, legacyHeaders: false }));
  app.get('/api/health', health(services));
  app.get('/api/events', (request, response) => services.events.listen(request, response));
  // A database that is being started again is worth a short wait; after that the page is told, and waits by itself.
  app.use('/api', async (_request, _response, next) => {
    if (services.daemon.state === 'up' || (await services.daemon.ready(DATABASE_WAIT_MS))) next();
    else
      next(
        new Problem(503, 'database', 'The database does not answer and is being started again. Nothing was done; ask again in a moment.'),
      );
  });
  app.all(`/api${UPLOADS}{/*rest}`, uploadHandler(services));
  app.use('/api', express.json({ limit: MOST_JSON, verify: (_request, _response, body) => shallow(body) }));
  app.use(
    '/api',
    shotRoutes(services),
    mediaRoutes(services),
    jobRoutes(services),
    plateRoutes(services),
    recipeRoutes(services),
    stockroomRoutes(services),
    roomRoutes(services),
    bundleRoutes(services),
    unknownRoute,
  );
  if (webFolder && existsSync(webFolder)) {
    app.use(
      express.static(webFolder, {
        index: false,
        setHeaders: (response, path) => {
          response.setHeader('Cache-Control', path.includes(`${'/'}assets${'/'}`) ? 'public, max-age=31536000, immutable' : 'no-cache');
        },
      }),
    );
    app.get('/{*any}', (_request, response) => {
      response.sendFile(join(webFolder, 'index.html'));
    });
  }
  app.use(unknownRoute);
  app.use(problems((error) => services.log(error)));
  return app;
}
