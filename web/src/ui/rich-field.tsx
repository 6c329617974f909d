import { t } from "@lingui/core/macro";
import Image from "@tiptap/extension-image";
import Subscript from "@tiptap/extension-subscript";
import Superscript from "@tiptap/extension-superscript";
import { TableKit } from "@tiptap/extension-table";
import { type Editor, EditorContent, useEditor, useEditorState } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import {
  Bold,
  ImagePlus,
  Italic,
  List,
  ListOrdered,
  Subscript as Lower,
  type LucideIcon,
  Superscript as Raise,
  TableIcon,
} from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { TextInput } from "./field";
import { FormulaTools } from "./formula-tools";

type Props = {
  label: string;
  value: string;
  onChange: (html: string) => void;
  /** One line: no lists, tables or paragraphs. */
  line?: boolean;
  className?: string;
  placeholder?: string;
  /** Takes a picture and answers with its address; without it pictures cannot be put in. */
  onPicture?: (file: File) => Promise<string>;
};

/** One lone paragraph is a bare line, as the server keeps it. */
const stored = (html: string) => {
  const alone = /^<p>((?:(?!<\/?p>)[\s\S])*)<\/p>$/.exec(html);
  return (alone ? (alone[1] ?? "") : html).trim();
};

const LINE_KEEPS = {
  heading: false,
  bulletList: false,
  orderedList: false,
  listItem: false,
  listKeymap: false,
  blockquote: false,
} as const;

/** Text with bold, sub- and superscript, lists, tables, pictures, and TeX between dollar signs. */
export function RichField({ label, value, onChange, line = false, className = "", placeholder, onPicture }: Props) {
  const [problem, setProblem] = useState("");
  const latest = useRef({ onChange, onPicture });
  latest.current = { onChange, onPicture };
  const place = async (editor: Editor, file: File) => {
    setProblem("");
    try {
      const src = await latest.current.onPicture?.(file);
      if (src) editor.chain().focus().setImage({ src, alt: "" }).run();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const take = (files: FileList | undefined) => {
    const file = [...(files ?? [])].find((file) => file.type.startsWith("image/"));
    if (!file || !editor || !latest.current.onPicture) return false;
    void place(editor, file);
    return true;
  };
  const editor = useEditor({
    extensions: [
      StarterKit.configure({
        // Undo belongs to the whole question and outlives the page, so the field keeps none of its own.
        undoRedo: false,
        link: false,
        strike: false,
        codeBlock: false,
        horizontalRule: false,
        trailingNode: false,
        heading: { levels: [3] },
        ...(line ? LINE_KEEPS : {}),
      }),
      Subscript,
      Superscript,
      ...(onPicture ? [Image.configure({ inline: line })] : []),
      ...(line ? [] : [TableKit.configure({ table: { resizable: false } })]),
    ],
    content: value,
    immediatelyRender: true,
    shouldRerenderOnTransaction: false,
    onUpdate: ({ editor: now }) => latest.current.onChange(now.isEmpty ? "" : stored(now.getHTML())),
    editorProps: {
      attributes: {
        role: "textbox",
        "aria-label": label,
        "aria-multiline": String(!line),
        class: "rich min-h-6 outline-none",
      },
      handleKeyDown: (_, event) => line && event.key === "Enter",
      handlePaste: (_, event) => take(event.clipboardData?.files),
      handleDrop: (_, event) => take((event as DragEvent).dataTransfer?.files),
    },
  });
  useEffect(() => {
    // Undo and other windows change the value from outside; typing does not come this way.
    if (editor && stored(editor.getHTML()) !== value && !(editor.isEmpty && !value))
      editor.commands.setContent(value, { emitUpdate: false });
  }, [editor, value]);
  return (
    <div className="group relative">
      <div
        className={`rounded-xs border border-edge/60 bg-page px-2.5 py-1.5 focus-within:border-iris ${className}`}
        data-placeholder={value ? undefined : placeholder}
      >
        {placeholder && !value && <span className="pointer-events-none absolute text-graphite">{placeholder}</span>}
        <EditorContent editor={editor} />
      </div>
      {editor && <Tools editor={editor} line={line} {...(onPicture ? { onPicture: place } : {})} />}
      {problem && <p className="mt-1 text-sm text-clay">◆ {problem}</p>}
    </div>
  );
}

type ToolsProps = { editor: Editor; line: boolean; onPicture?: (editor: Editor, file: File) => void };

/** The row of tools under a field while it is written in. */
function Tools({ editor, line, onPicture }: ToolsProps) {
  const file = useRef<HTMLInputElement>(null);
  const state = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      focused: now.isFocused,
      bold: now.isActive("bold"),
      italic: now.isActive("italic"),
      subscript: now.isActive("subscript"),
      superscript: now.isActive("superscript"),
      bulletList: now.isActive("bulletList"),
      orderedList: now.isActive("orderedList"),
      table: now.isActive("table"),
      picture: now.isActive("image"),
      alt: (now.getAttributes("image").alt as string | undefined) ?? "",
    }),
  });
  const run = () => editor.chain().focus();
  return (
    <>
      <div
        // Laid over the line above, so that nothing moves under the pointer when the field is entered or left.
        className={`absolute end-0 bottom-full z-10 max-w-full flex-wrap items-center justify-end gap-0.5 border border-hairline bg-page px-1 ${state.focused ? "flex" : "hidden group-focus-within:flex"}`}
      >
        <Tool says={t`Bold`} on={state.bold} onPress={() => run().toggleBold().run()} icon={Bold} />
        <Tool says={t`Italic`} on={state.italic} onPress={() => run().toggleItalic().run()} icon={Italic} />
        <Tool says={t`Subscript`} on={state.subscript} onPress={() => run().toggleSubscript().run()} icon={Lower} />
        <Tool
          says={t`Superscript`}
          on={state.superscript}
          onPress={() => run().toggleSuperscript().run()}
          icon={Raise}
        />
        {!line && (
          <>
            <Tool says={t`List`} on={state.bulletList} onPress={() => run().toggleBulletList().run()} icon={List} />
            <Tool
              says={t`Numbered list`}
              on={state.orderedList}
              onPress={() => run().toggleOrderedList().run()}
              icon={ListOrdered}
            />
            <Tool
              says={t`Table`}
              on={state.table}
              onPress={() => run().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run()}
              icon={TableIcon}
            />
          </>
        )}
        {onPicture && (
          <>
            <Tool says={t`Picture`} on={state.picture} onPress={() => file.current?.click()} icon={ImagePlus} />
            <input
              ref={file}
              type="file"
              accept="image/*"
              aria-label={t`Choose a picture`}
              className="hidden"
              onChange={(event) => {
                const chosen = event.target.files?.[0];
                if (chosen) onPicture(editor, chosen);
                event.target.value = "";
              }}
            />
          </>
        )}
        <FormulaTools editor={editor} />
        {state.table && (
          <span className="flex w-full flex-wrap gap-0.5">
            <Tool says={t`Row below`} onPress={() => run().addRowAfter().run()}>{t`+ row`}</Tool>
            <Tool says={t`Column after`} onPress={() => run().addColumnAfter().run()}>{t`+ column`}</Tool>
            <Tool says={t`Take out the row`} onPress={() => run().deleteRow().run()}>{t`− row`}</Tool>
            <Tool says={t`Take out the column`} onPress={() => run().deleteColumn().run()}>{t`− column`}</Tool>
            <Tool says={t`Take out the table`} onPress={() => run().deleteTable().run()}>{t`− table`}</Tool>
          </span>
        )}
      </div>
      {/* Like a caption; it stays while the picture is chosen, so it moves nothing when the field is left. */}
      {state.picture && (
        <div className="mt-1 flex items-center gap-2 text-sm">
          <span className="shrink-0 text-graphite">{t`What the picture shows`}</span>
          <TextInput
            aria-label={t`What the picture shows`}
            value={state.alt}
            maxLength={500}
            placeholder={t`for students who cannot see it`}
            onChange={(event) => editor.commands.updateAttributes("image", { alt: event.target.value })}
          />
        </div>
      )}
    </>
  );
}

type ToolProps = { says: string; on?: boolean; onPress: () => void; icon?: LucideIcon; children?: ReactNode };

function Tool({ says, on = false, onPress, icon: Icon, children }: ToolProps) {
  return (
    <button
      type="button"
      {...(Icon ? { "aria-label": says } : {})}
      title={says}
      aria-pressed={on}
      // The field keeps the cursor while a tool is pressed.
      onMouseDown={(event) => event.preventDefault()}
      onClick={onPress}
      className={`flex h-7 min-w-7 items-center justify-center px-1 text-sm ${on ? "bg-iris-wash text-iris" : "text-graphite hover:text-ink"}`}
    >
      {Icon ? <Icon className="size-4" aria-hidden="true" /> : children}
    </button>
  );
}
