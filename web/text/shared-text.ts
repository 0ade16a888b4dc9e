import type { Extensions } from '@tiptap/core';
import Collaboration from '@tiptap/extension-collaboration';
import { Plugin, type PluginView } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';
import { ySyncPluginKey } from '@tiptap/y-tiptap';
import type { XmlFragment } from 'yjs';
import { afterPaint } from '../ui/timing/after-paint';

/** What happens to a page before it is gone or out of sight. */
const LEAVING = ['pagehide', 'visibilitychange'] as const;

/**
 * An editor's text that several write at once. A letter is seen first, and goes into the shared text once it is painted: that
 * costs as much as showing it. Whoever changes or reads the shared text otherwise calls `flush` before.
 */
export class SharedText {
  /** For the editor. */
  readonly extensions: Extensions;
  /** Puts what is in the editor alone into the shared text; null: nothing is. */
  private waiting: (() => void) | null = null;

  constructor(fragment: XmlFragment) {
    const flush = (): void => this.flush();
    const defer = (plugins: Plugin[]): Plugin[] => this.defer(plugins);
    this.extensions = [
      Collaboration.extend({
        addProseMirrorPlugins() {
          return defer(this.parent?.() ?? []);
        },
        addCommands() {
          // Undone is what the shared text holds.
          const { undo, redo } = this.parent!() as ReturnType<NonNullable<typeof Collaboration.config.addCommands>>;
          return {
            undo: () => (props) => (flush(), undo!()(props)),
            redo: () => (props) => (flush(), redo!()(props)),
          };
        },
      }).configure({ fragment }),
    ];
    for (const kind of LEAVING) globalThis.addEventListener?.(kind, this.flush, true);
  }

  /** What was typed stands in the shared text. */
  readonly flush = (): void => {
    const put = this.waiting;
    this.waiting = null;
    put?.();
  };

  end(): void {
    this.flush();
    for (const kind of LEAVING) globalThis.removeEventListener?.(kind, this.flush, true);
  }

  private defer(plugins: Plugin[]): Plugin[] {
    const sync = plugins.find((p) => p.spec.key === ySyncPluginKey)!;
    const viewOf = sync.spec.view!.bind(sync);
    sync.spec.view = (view) => this.deferred(view, viewOf(view));
    // What follows a letter finds it in the shared text: places in the two are compared.
    const first = new Plugin({ filterTransaction: () => (this.flush(), true) });
    return [...plugins, first];
  }

  private deferred(view: EditorView, sync: PluginView): PluginView {
    return {
      update: (_view, before) => {
        if (before.doc === view.state.doc) return;
        const put = (): void => sync.update?.(view, before);
        const { isChangeOrigin, addToHistory } = ySyncPluginKey.getState(view.state) as Record<string, unknown>;
        // What came from the shared text, and what cannot be undone, is noted with its own step.
        if (isChangeOrigin === true || addToHistory === false) return put();
        this.waiting = put;
        void afterPaint().then(this.flush);
      },
      destroy: () => {
        this.flush();
        sync.destroy?.();
      },
    };
  }
}
