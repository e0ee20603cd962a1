// A file that is chosen is brought at once; one that is too large is said so before it is sent.
const largest = 5_000_000;

export function checkUploadSize(root: HTMLElement): void {
  const file = root.querySelector<HTMLInputElement>('input[type=file]');
  const notice = document.getElementById('notice');
  if (!file || !notice) return;
  const say = (sentence: string): void => {
    notice.textContent = sentence;
    notice.hidden = sentence === '';
  };
  file.addEventListener('change', () => {
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
    // With the button of the preview: the form that the file goes with may have another.
    const preview = document.querySelector<HTMLButtonElement>('#preview');
    preview?.form?.requestSubmit(preview);
  });
}
