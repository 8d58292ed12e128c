/** A busy machine fails nothing: what is waited for is waited for long. */
import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";

configure({ asyncUtilTimeout: 60_000 });
afterEach(cleanup); // hooks with timers end with their test
