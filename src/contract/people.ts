/** Who may sign in, what they may do, and how they say who they are. Types and schemas alone. */
import { ROLES, type Role } from "@/core/access/roles";
import { BOUNDS } from "./bounds";
import { checker, objectOf } from "./validate";
import type { Who } from "./who";

export interface PersonView {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** Milliseconds since 1970, by the database's clock. */
  readonly madeAt: number;
  readonly madeBy: Who;
  /** When something was asked last under this name; null: never yet. */
  readonly seenAt: number | null;
}

/** Told once, when it is made. */
export interface PersonWithKey {
  readonly name: string;
  readonly role: Role;
  readonly key: string;
}

/** Who asks. */
export interface MeView {
  /** Whether people have to sign in here. */
  readonly isLocked: boolean;
  /** Null: nobody has signed in, or nobody has to. */
  readonly name: string | null;
  readonly role: Role | null;
}

export interface AuditLine {
  /** Later ones have higher ones. */
  readonly id: number;
  /** Milliseconds since 1970, by the database's clock. */
  readonly at: number;
  readonly who: Who;
  /** Null: the name was only given. */
  readonly role: Role | null;
  /** Operation or word. */
  readonly did: string;
  readonly what: string;
  /** HTTP status of the answer; null: there was none. */
  readonly status: number | null;
}

export interface AuditView {
  /** The newest first. */
  readonly lines: readonly AuditLine[];
  /** Whether there are older ones. */
  readonly hasMore: boolean;
}

const personName = { type: "string", format: "name", minLength: 1, maxLength: BOUNDS.personName } as const;

export interface SignInBody {
  readonly name: string;
  readonly key: string;
}
export const checkSignIn = checker<SignInBody>(
  objectOf<SignInBody>({
    name: { type: "string", minLength: 1, maxLength: BOUNDS.personName },
    key: { type: "string", minLength: 1, maxLength: BOUNDS.accessKey },
  }),
);

export interface NewPersonBody {
  readonly name: string;
  readonly role: Role;
}
export const checkNewPerson = checker<NewPersonBody>(
  objectOf<NewPersonBody>({ name: personName, role: { enum: ROLES } }),
);

/** What is left out stays. */
export interface ChangePersonBody {
  readonly role?: Role;
  /** Another key, which ends what is signed in with the first. */
  readonly newKey?: true;
}
export const checkChangePerson = checker<ChangePersonBody>({
  ...objectOf<ChangePersonBody>({ role: { enum: ROLES }, newKey: { const: true } }, []),
  minProperties: 1,
});
