const endings = /\.(wav|wave|aif|aiff|aifc|caf|flac|ogg|oga|opus|mp3|w64|rf64|au|snd)$/i;

const inOrder = new Intl.Collator("en", { numeric: true });

/** Of files that came together, those that can be sounds, in the order of their names: a browser gives a folder in no order. */
export function soundsOf(files: readonly File[]): File[] {
  return files
    .filter((f) => f.type.startsWith("audio/") || endings.test(f.name))
    .sort((a, b) => inOrder.compare(a.webkitRelativePath || a.name, b.webkitRelativePath || b.name));
}
