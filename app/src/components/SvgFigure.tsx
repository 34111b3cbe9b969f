import { useRef, type ReactNode } from 'react';
import { FigureFrame } from './FigureFrame.tsx';

interface Props {
  title: ReactNode;
  caption: string;
  numbers: () => (string | number)[][];
  fileName: string;
  controls?: ReactNode;
  /** Units of the drawing; it is scaled to the width of the page. */
  width: number;
  height: number;
  /** Parts of it can be pressed. */
  pressable?: boolean;
  children: ReactNode;
}

/** A figure of our own drawing, for what the chart package has no type for. */
export function SvgFigure({
  width,
  height,
  pressable = false,
  children,
  caption,
  ...frame
}: Props) {
  const svg = useRef<SVGSVGElement>(null);
  return (
    <FigureFrame
      {...frame}
      caption={caption}
      picture={() => toPng(svg.current!, width, height)}
      drawing={() => textOf(standingAlone(svg.current!, width, height))}
    >
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        role={pressable ? 'group' : 'img'}
        aria-label={caption}
        style={{ display: 'block', width: '100%', maxWidth: width, height: 'auto' }}
      >
        {children}
      </svg>
    </FigureFrame>
  );
}

/** Styles are written into a copy, which so stands alone. */
function standingAlone(svg: SVGSVGElement, width: number, height: number): SVGSVGElement {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const [from, to] = [svg, copy].map((root) => [root, ...root.querySelectorAll('*')]);
  from.forEach((element, i) => {
    const style = getComputedStyle(element);
    for (const name of [
      'fill',
      'stroke',
      'stroke-width',
      'font-size',
      'font-family',
      'text-anchor',
      'opacity',
      'stroke-dasharray',
    ])
      (to[i] as SVGElement).style.setProperty(name, style.getPropertyValue(name));
    to[i].removeAttribute('class');
  });
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  return copy;
}

const textOf = (svg: SVGSVGElement): string => new XMLSerializer().serializeToString(svg);

/** Drawn at twice its size on white. */
async function toPng(svg: SVGSVGElement, width: number, height: number): Promise<string> {
  const copy = standingAlone(svg, 2 * width, 2 * height);
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(textOf(copy))}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [2 * width, 2 * height];
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.drawImage(image, 0, 0);
  return canvas.toDataURL('image/png');
}
