import type { ReactNode } from 'react';
import { Clause } from '../../shop/Clause';
import { problemsUnder } from '../../shop/document';
import { toText } from '../../ui/numbers';
import { Typed } from '../../ui/Typed';
import type { Settings, Which } from './useSettings';

/** A clause of the settings with what is wrong with its members. */
export function Said({ of, name, members, children }: { of: Settings; name: string; members: string[]; children: ReactNode }) {
  return (
    <Clause name={name} problems={members.flatMap((member) => problemsUnder(of.problems, member))}>
      {children}
    </Clause>
  );
}

type Props = {
  of: Settings;
  which: Which;
  member: string;
  label: string;
  value: unknown;
  read?: (text: string) => unknown;
  /** Takes the text itself, where it is a part of a member. */
  onText?: (text: string) => void;
  placeholder?: string;
  prose?: boolean;
};

/** A member of the settings that is typed. */
export function Part({ of, which, member, label, value, read = String, onText, placeholder, prose }: Props) {
  return (
    <Typed
      label={label}
      placeholder={placeholder}
      prose={prose}
      wanting={problemsUnder(of.problems, `/${which}/${member}`).length > 0}
      value={toText(value)}
      onType={(text) => (onText ? onText(text) : of.change(which, member, read(text)))}
    />
  );
}
