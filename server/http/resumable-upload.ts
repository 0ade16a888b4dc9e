import { DataStore, Server, Upload, type Locker } from '@tus/server';
import type { Readable } from 'node:stream';
import { UploadMoved, type FileStore } from '../kernel/files/file-store';
import type { Context } from './route';

/** Bytes of a file at most, whatever was agreed; what was agreed is in the upload's row. */
const NO_LIMIT = 0;

/** One upload of a school, as the protocol's package wants to see it. It is begun by a route of its own, never here. */
class UploadStore extends DataStore {
  private holder = '';

  constructor(
    private readonly files: FileStore,
    private readonly school: string,
  ) {
    super();
  }

  async take(id: string): Promise<void> {
    this.holder = await this.files.take(this.school, id);
  }

  override async getUpload(id: string): Promise<Upload> {
    const row = await this.files.find(this.school, id);
    if (!row) throw { status_code: 404, body: 'There is no such upload.\n' };
    return new Upload({ id, size: row.bytes, offset: row.received });
  }

  override async write(source: Readable, id: string, offset: number): Promise<number> {
    try {
      return await this.files.append(this.school, id, this.holder, offset, source);
    } catch (error) {
      if (error instanceof UploadMoved) throw { status_code: 409, body: 'This upload goes on elsewhere.\n' };
      throw error;
    }
  }
}

/**
 * Answers HEAD and PATCH of one upload by the tus protocol. Whoever asks takes the upload over from whoever wrote it
 * before: a line that broke may still look whole from here. `finished`: all of it is there; `failed` hears of what should not be.
 */
export async function resumeUpload(
  { request, response, school, params }: Pick<Context<never>, 'request' | 'response' | 'school' | 'params'>,
  files: FileStore,
  { finished, failed }: { finished: () => Promise<void>; failed: (error: unknown) => void },
): Promise<void> {
  const upload = params['upload']!;
  const store = new UploadStore(files, school);
  const locker: Locker = {
    newLock: (id) => ({ lock: () => store.take(id), unlock: async () => undefined }),
  };
  const server = new Server({
    path: '/api/v1/uploads',
    datastore: store,
    locker,
    maxSize: NO_LIMIT,
    allowedOrigins: [],
    getFileIdFromRequest: () => upload,
    onResponseError(_request, error) {
      // What the protocol itself answers has its status; a line that drops is nobody's fault.
      if (!('status_code' in error) && !request.destroyed) failed(error);
      return undefined;
    },
    async onUploadFinish() {
      await finished();
      return {};
    },
  });
  await server.handle(request, response);
}
