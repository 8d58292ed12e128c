/** A busy machine fails nothing: what is waited for is waited for long. */
import { configure } from "@testing-library/react";

configure({ asyncUtilTimeout: 60_000 });
