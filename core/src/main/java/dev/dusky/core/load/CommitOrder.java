package dev.dusky.core.load;

/** When the outcome of a file may be committed, where several files are loaded at the same time. */
interface CommitOrder {

  /** No file comes before. */
  CommitOrder FIRST =
      new CommitOrder() {
        @Override
        public void await() {}

        @Override
        public boolean lost() {
          return false;
        }
      };

  /** Waits until the files before this one are settled. Fails if one of them failed. */
  void await() throws InterruptedException;

  /** Whether this file will never be committed, since one before it failed. */
  boolean lost();
}
