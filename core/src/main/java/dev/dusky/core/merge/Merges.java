package dev.dusky.core.merge;

import java.util.List;
import java.util.function.Consumer;

/** Runs merges, each in one transaction with its ledger entry. */
public interface Merges {

  /**
   * Merges what has landed and was not merged yet.
   *
   * @param waiting receives the target that another merge holds, before this one waits
   * @param done receives each result when its transaction is committed, also if a later one fails
   */
  void run(Merge merge, MergeStart start, Consumer<String> waiting, Consumer<MergeResult> done);

  /**
   * Fills columns of the target from the rows that were merged before, after adding those that it
   * lacks.
   *
   * @return how many rows of the target were changed
   */
  long fill(Merge merge, List<String> columns, MergeStart start);

  /** The statements of a merge as they would run now, each with its purpose. */
  List<MergeStep> script(Merge merge);
}
