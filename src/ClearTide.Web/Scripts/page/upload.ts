// Reads a chosen file into the text field, so that a file and pasted text go the same way; one that is too large is said so before it is read.
const largest = 5_000_000;

export function checkUploadSize(root: HTMLElement): void {
  const file = root.querySelector<HTMLInputElement>('input[type=file]');
  const text = root.querySelector<HTMLTextAreaElement>('textarea[name=text]');
  const notice = document.getElementById('notice');
  if (!file || !text || !notice) return;
  const say = (sentence: string): void => {
    notice.textContent = sentence;
    notice.hidden = sentence === '';
  };
  file.addEventListener('change', async () => {
    const chosen = file.files?.[0];
    if (!chosen) return;
    if (chosen.size > largest) {
      say(
        `${chosen.name} has ${(chosen.size / 1e6).toFixed(1)} MB; at most ${largest / 1e6} MB are read. Cut it down to the columns of time and counts.`,
      );
      file.value = '';
      return;
    }
    say('');
    text.value = await chosen.text();
    const name = root.querySelector<HTMLInputElement>('input[name=name]');
    if (name) name.value = chosen.name;
    text.form?.requestSubmit();
  });
}
