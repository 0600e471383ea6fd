const pressed = 'bg-surround-raised text-white';
const loose = 'text-surround-ink hover:text-white';

interface PictureSwitchProps {
  on: boolean;
  onPress: () => void;
  className?: string;
  children: string;
}

/** A switch on the neutral surround of pictures, which knows no colour. */
export function PictureSwitch({ on, onPress, className = '', children }: PictureSwitchProps) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className={`h-7 rounded px-2 whitespace-nowrap ${on ? pressed : loose} ${className}`}
    >
      {children}
    </button>
  );
}

interface PictureChoiceProps<T> {
  label: string;
  options: readonly T[];
  value: T;
  say: (option: T) => string;
  onChoose: (option: T) => void;
  className?: string;
}

/** One of a few, on the neutral surround of pictures. */
export function PictureChoice<T extends string | number>(props: PictureChoiceProps<T>) {
  const { label, options, value, say, onChoose, className = '' } = props;
  return (
    <span role="group" aria-label={label} className={`flex flex-wrap ${className}`}>
      {options.map((option) => (
        <PictureSwitch key={option} on={option === value} onPress={() => onChoose(option)}>
          {say(option)}
        </PictureSwitch>
      ))}
    </span>
  );
}
