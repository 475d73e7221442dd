import { ClockOff } from "./ClockOff";
import { SignInForm } from "./SignInForm";

/** The first page of a browser at which nobody is signed in; what was to be opened opens afterwards. */
export function SignInPage() {
  return (
    <div className="sign-in">
      <h1>Sign in</h1>
      <p className="text-secondary">
        This workshop knows who works by their account. Everything recorded carries those initials.
      </p>
      <ClockOff />
      <section className="panel" aria-label="Sign in">
        <SignInForm />
      </section>
      <p className="text-secondary mt-3 mb-0">
        No account, or a password that is lost? A lead adds people and sets passwords, under This lab, People. A lead
        without a password sets one on the server's own machine: <code>setback user password</code>.
      </p>
    </div>
  );
}
