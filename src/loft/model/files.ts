import { TuningDocument } from './document.js';
import { LevelDocument } from './level-document.js';
import type { Loft } from './loft.js';
import { messageOf } from './messages.js';
import { GONE, type Disk, type ServedFile } from './server.js';
import { download, keep } from './storage.js';

/** Files that are opened, saved, and followed where somebody else writes them. */
export class LoftFiles {
  private saving: Promise<void> = Promise.resolve();

  constructor(private readonly loft: Loft) {}

  /** Saves the document as it is now; one save follows another. */
  save(): Promise<void> {
    this.saving = this.saving.then(() => this.saveNow());
    return this.saving;
  }

  private async saveNow(): Promise<void> {
    const { document, disk } = this.loft;
    const { text } = document;
    if (!disk) {
      download(document.name, text, 'text/yaml');
      document.keep('');
      this.loft.say = `${document.name} downloaded`;
    } else
      try {
        document.saving = text;
        const { saved, file } = await disk.save(document.name, text, document.mark);
        if (saved) {
          document.keep(file.mark, text);
          this.loft.say = `${document.name} saved${document.dirty ? ', and edited since' : ''}`;
        } else if (file.mark === GONE) {
          document.mark = GONE;
          this.loft.say = `${document.name} is gone from disk: save again to write it anew`;
        } else {
          document.theirs = { text: file.text, mark: file.mark, bases: file.bases };
          this.loft.say = `${document.name} has changed on disk`;
        }
      } catch (error) {
        this.loft.say = `not saved: ${(error as Error).message}`;
      } finally {
        document.saving = undefined;
      }
    this.loft.tell();
  }

  decide(mine: boolean): void {
    this.loft.document.decide(mine);
    this.loft.after();
  }

  /** A file has changed on disk. */
  changed(file: ServedFile): void {
    if (file.wrong) {
      // What cannot be read is not followed, and not overwritten: the last good one stays here.
      const document = this.loft.documents.find(({ name }) => name === file.name);
      if (document) document.unread = file.wrong;
      this.loft.say = `${file.name} on disk cannot be read: ${file.wrong}`;
      return this.loft.tell();
    }
    if (file.kind === 'abilities') return void this.loft.changeAbilities(file);
    if (file.kind === 'level') {
      if (file.name !== this.loft.level.name) return;
      // What this page has saved itself is nothing new.
      if (file.mark === this.loft.level.mark && file.text === this.loft.level.text) return;
      try {
        if (this.loft.level.dirty) {
          this.loft.level.theirs = { text: file.text, mark: file.mark };
          this.loft.say = `${file.name} has changed on disk, and here`;
          return this.loft.tell();
        }
        this.loft.level.written(file.text, file.mark);
        this.loft.session.changeLevel(this.loft.level.compiled);
        this.loft.askLevel();
        this.loft.say = `${file.name} has changed: begun anew`;
      } catch (error) {
        // While it is wrong the last good one stays.
        this.loft.say = messageOf(error);
      }
    } else if (file.kind === 'tuning') {
      const document = this.loft.documents.find(({ name }) => name === file.name);
      if (!document) return;
      document.unread = '';
      if (document.isAt(file.mark, file.bases)) return;
      const followed = document.written(file.text, file.mark, file.bases);
      this.loft.say = followed ? `${file.name} followed its file` : `${file.name} has changed on disk, and here`;
      if (document === this.loft.document) {
        this.loft.session.retune();
        this.loft.reshow();
      }
    }
    this.loft.tell();
  }

  /** Opens a file that was chosen in the page. */
  async openFile(file: File): Promise<void> {
    const text = await file.text();
    const { name } = file;
    try {
      if (/\.tuning\.(yaml|json)$/.test(name)) {
        this.loft.documents = [
          ...this.loft.documents.filter((one) => one.name !== name),
          new TuningDocument(name, text, '', [], this.loft.own),
        ];
        this.loft.choose(name);
      } else if (/\.level\.(yaml|svg)$/.test(name)) {
        this.loft.level = new LevelDocument({ name, text, mark: '' });
        if (!this.loft.disk && !keep({ name, text, kind: 'level' }))
          this.loft.say = `${name} is open, but this browser keeps nothing more`;
        this.loft.session.clearGhosts();
        this.loft.session.changeLevel(this.loft.level.compiled);
        this.loft.look();
        // What was asked of the other level is no answer here.
        this.loft.asking.stop();
        this.loft.askLevel();
      } else if (name.endsWith('.input.csv')) {
        this.loft.inputs = [...this.loft.inputs.filter((one) => one.name !== name), { name, text }];
        this.loft.takes.playInput(name);
      } else if (name.endsWith('.keys.yaml')) this.loft.takeKeys({ name, text, kind: 'keys', bases: [], mark: '' });
      else if (/\.(csv|jsonl)$/.test(name)) this.loft.fitting.open(name, text);
      else if (/\.[cm]?[jt]s$/.test(name))
        throw new Error(`code is run only where the Loft was started with it: apperin loft … --abilities ${name}`);
      else throw new Error('the Loft opens tunings, levels, inputs, keys and captures');
      this.loft.say = `${name} opened`;
    } catch (error) {
      this.loft.say = `${name}: ${messageOf(error)}`;
    }
    this.loft.tell();
  }

  decideLevel(mine: boolean): void {
    try {
      this.loft.level.decide(mine);
      if (!mine) this.loft.levelMoved();
    } catch (error) {
      this.loft.say = messageOf(error);
    }
    this.loft.tell();
  }

  /** Saves the level as it is now. @param asDrawing what left the grid of its rows: as a drawing beside it */
  saveLevel(asDrawing = false): Promise<void> {
    this.saving = this.saving.then(() => this.saveLevelNow(asDrawing));
    return this.saving;
  }

  private async saveLevelNow(asDrawing: boolean): Promise<void> {
    const { level, disk, moving } = this.loft;
    moving.beside = undefined;
    try {
      const what = level.toSave;
      const isBeside = 'drawing' in what;
      if (isBeside && !asDrawing) moving.beside = what;
      else
        await this.writeLevel(
          isBeside ? what.drawing : what.text,
          isBeside ? level.drawnName : level.name,
          isBeside ? GONE : level.mark,
          disk,
        );
    } catch (error) {
      this.loft.say = `not saved: ${messageOf(error)}`;
    }
    this.loft.tell();
  }

  private async writeLevel(text: string, name: string, mark: string, disk: Disk | undefined): Promise<void> {
    const { level } = this.loft;
    let now = '';
    if (!disk) {
      download(name, text, name.endsWith('.svg') ? 'image/svg+xml' : 'text/yaml');
      keep({ name, text, kind: 'level' });
    } else {
      const { saved, file } = await disk.save(name, text, mark);
      if (!saved) {
        if (name === level.name) level.theirs = { text: file.text, mark: file.mark };
        this.loft.say =
          name === level.name
            ? `${name} has changed on disk, and here`
            : `there is a ${name} already, which is not written over`;
        return;
      }
      now = file.mark;
    }
    if (name === level.name) level.written(text, now);
    else this.loft.level = new LevelDocument({ name, text, mark: now });
    this.loft.say = `${name} ${disk ? 'saved' : 'downloaded'}`;
  }
}
