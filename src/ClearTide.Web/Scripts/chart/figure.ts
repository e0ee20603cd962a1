// Buttons below a picture that save or copy it; what they belong to stands in data-figure.
import { takePicture, type PictureForm } from './take';

document.addEventListener('click', event => {
  const button = (event.target as Element).closest<HTMLElement>('[data-figure-as]'),
    group = button?.closest<HTMLElement>('[data-figure]'),
    place = group && document.querySelector(group.dataset.figure!);
  if (!button || !group || !place) return;
  void takePicture(
    [...place.querySelectorAll<SVGSVGElement>('svg')],
    group.dataset.title!,
    button.dataset.figureAs as PictureForm,
    place,
    group.querySelector<HTMLElement>('.figure-words')!,
  );
});

export {};
