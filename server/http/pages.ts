import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import type { Express, NextFunction, Request, Response } from 'express';
import expressStaticGzip from 'express-static-gzip';
import compression from 'compression';
import helmet from 'helmet';

/** Headers of the API's answers. */
const answersGuard = (secure: boolean) =>
  helmet({
    contentSecurityPolicy: { useDefaults: false, directives: { defaultSrc: ["'none'"], frameAncestors: ["'none'"] } },
    strictTransportSecurity: secure,
    crossOriginEmbedderPolicy: false,
  });

/** The same headers as they are sent: they are no others from one answer to the next. */
export function answerHeaders(secure: boolean): Record<string, string> {
  const headers: Record<string, string> = {};
  const response = {
    setHeader: (name: string, value: string) => void (headers[name] = value),
    removeHeader: (name: string) => void delete headers[name],
  };
  answersGuard(secure)({} as IncomingMessage, response as unknown as ServerResponse, (error) => {
    if (error) throw error as Error;
  });
  return headers;
}

/** Headers for everything: a strict Content-Security-Policy, for pages with a nonce for styles made while running. */
export function guard(app: Express, api: string, secure: boolean): void {
  const answers = answersGuard(secure);
  const pagesToo = helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        // WebAssembly for the decoders of HEIC and of pictures in PDF; no script but our own.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", (_q, response) => `'nonce-${(response as Response).locals['nonce'] as string}'`],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        ...(secure ? { upgradeInsecureRequests: [] } : {}),
      },
    },
    strictTransportSecurity: secure,
    crossOriginEmbedderPolicy: false,
  });
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.path.startsWith(`${api}/`)) return answers(request, response, next);
    response.locals['nonce'] = randomBytes(18).toString('base64');
    pagesToo(request, response, next);
  });
}

/** The built web application; any other path gets its page, with the nonce of this answer. */
export function pages(app: Express, folder: string): void {
  const html = readFileSync(join(folder, 'index.html'), 'utf8');
  app.use(compression({ level: 1 }));
  // As the build compressed them, where the browser takes that.
  app.use(
    expressStaticGzip(folder, {
      index: false,
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      serveStatic: { immutable: true, maxAge: '1y' },
    }),
  );
  // A script or style that is not there belongs to a version before this one: its page has to know, not to get another.
  app.get(/\.(?:js|mjs|css|woff2?|map|json|png|svg|ico|wasm)$/, (_request, response) => {
    response.status(404).set('Cache-Control', 'no-store').type('text').send('There is no such file any more.');
  });
  app.get('/{*any}', (_request, response) => {
    response
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(html.replaceAll('NONCE', response.locals['nonce'] as string));
  });
}
