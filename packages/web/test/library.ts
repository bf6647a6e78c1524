import { configure } from '@testing-library/react';

configure({
  // Whether an element can be seen is worked out from styles, which there are none of here, and takes most of
  // the time.
  defaultHidden: true,
  // A busy machine takes its time.
  asyncUtilTimeout: 60_000,
});
