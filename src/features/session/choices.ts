import { create } from 'zustand';

/** A question with a few answers that something under way waits for. */
interface Choice {
  title: string;
  options: readonly string[];
  answer: (chosen: string | null) => void;
}

export const useChoice = create<{ choice: Choice | null }>()(() => ({ choice: null }));

/** Asks the person to choose; null if they would rather not. */
export function askChoice(title: string, options: readonly string[]): Promise<string | null> {
  return new Promise((resolve) =>
    useChoice.setState({
      choice: {
        title,
        options,
        answer(chosen) {
          useChoice.setState({ choice: null });
          resolve(chosen);
        },
      },
    }),
  );
}
