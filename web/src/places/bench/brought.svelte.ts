import { addFile, type Schemas } from '../../api/client';

/** The pictures and files of a request, with those that are added to it on the bench. */
export class Brought {
  private added = $state.raw<Schemas['Attachment'][]>([]);

  constructor(private readonly number: number) {}

  /** Adds a picture or a file to download to the request. */
  async add(f: File): Promise<Schemas['Attachment']> {
    const a = await addFile(this.number, f);
    this.added = [...this.added, a];
    return a;
  }

  /** The pictures of the request. */
  pictures(request: Schemas['Request']): Schemas['Attachment'][] {
    return this.all(request).filter((a) => a.media.startsWith('image/'));
  }

  /** The files to download of the request. */
  files(request: Schemas['Request']): Schemas['Attachment'][] {
    return this.all(request).filter((a) => !a.media.startsWith('image/'));
  }

  private all(request: Schemas['Request']): Schemas['Attachment'][] {
    return [...request.attachments, ...this.added.filter((a) => !request.attachments.some((b) => b.id === a.id))];
  }
}
