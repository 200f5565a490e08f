import { type FormEvent, useState } from 'react';
import { faultOf, forgetAll, useDemoPeopleQuery, useSignInMutation } from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Wordmark } from '../ui/Wordmark.tsx';

/** The page in front of everything else: who are you. */
export function SignIn() {
  const [signInName, setSignInName] = useState('');
  const [password, setPassword] = useState('');
  const { data: demoPeople = [] } = useDemoPeopleQuery();
  const [signIn, { isLoading, error }] = useSignInMutation();
  const dispatch = useAppDispatch();

  const enter = async (name: string, word: string) => {
    const result = await signIn({ signInName: name, password: word });
    // Nothing of an earlier person's may stay on the screen.
    if (!result.error) forgetAll(dispatch);
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void enter(signInName, password);
  };

  return (
    <main className="grid min-h-full place-items-center p-6">
      <div className="w-full max-w-[380px]">
        <Wordmark large />
        <h1 className="mt-6 text-[22px] leading-7 font-semibold">Sign in</h1>
        <form
          onSubmit={submit}
          className="mt-3 flex flex-col gap-3 rounded-box border border-hairline bg-white p-5"
        >
          <TextField
            label="Name"
            value={signInName}
            onChange={setSignInName}
            autoComplete="username"
            autoFocus
          />
          <TextField
            label="Password"
            type="password"
            value={password}
            onChange={setPassword}
            autoComplete="current-password"
          />
          {error && <FaultNote fault={faultOf(error)} />}
          <Button type="submit" kind="primary" disabled={isLoading || !signInName || !password}>
            Sign in
          </Button>
        </form>
        {demoPeople.length > 0 && (
          <section className="mt-6" aria-labelledby="demo-people">
            <h2 id="demo-people" className="text-sm font-semibold text-muted">
              Or come in as one of the demo’s people
            </h2>
            <ul className="mt-2 divide-y divide-hairline rounded-box border border-hairline bg-white">
              {demoPeople.map((person) => (
                <li key={person.signInName}>
                  <button
                    type="button"
                    className="flex w-full items-baseline justify-between gap-3 px-4 py-2 text-left hover:bg-mist"
                    onClick={() => void enter(person.signInName, person.password)}
                  >
                    <span className="font-semibold">{person.name}</span>
                    <span className="text-muted">{person.title}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </main>
  );
}
