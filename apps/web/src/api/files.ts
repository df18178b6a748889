/** Asks the person for a file and gives its text. */
export function pickText(accept: string): Promise<{ name: string; text: string } | null> {
  return pick(accept).then(async (file) => file && { name: file.name, text: await file.text() });
}

export const pick = (accept: string): Promise<File | null> => pickFiles(accept, false).then(([file]) => file ?? null);

/** Asks the person for files; none where nothing was chosen. */
export function pickFiles(accept: string, multiple = true): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.multiple = multiple;
    input.onchange = () => resolve([...(input.files ?? [])]);
    input.oncancel = () => resolve([]);
    input.click();
  });
}

/** Gives the person a file to keep. */
export function give(name: string, type: string, content: BlobPart): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export const base64Of = async (file: Blob): Promise<string> => {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = '';
  for (let at = 0; at < bytes.length; at += 32_768) text += String.fromCharCode(...bytes.subarray(at, at + 32_768));
  return btoa(text);
};

/** A file name from a title. */
export const fileName = (title: string, ending: string): string =>
  `${
    title
      .trim()
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'sobrin'
  }.${ending}`;
