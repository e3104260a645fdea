package dev.dusky.core.merge;

import java.util.List;
import java.util.Optional;

/** How a merge handles a row whose key exists in the target. */
public sealed interface ExistingPolicy {

  /** The target's row stays. */
  record Keep() implements ExistingPolicy {
    @Override
    public String toString() {
      return "keep";
    }
  }

  /**
   * The target's row takes the landed values.
   *
   * @param columns only these; all if there are none
   */
  record Overwrite(List<String> columns) implements ExistingPolicy {
    public Overwrite {
      columns = List.copyOf(columns);
    }

    @Override
    public String toString() {
      return "overwrite";
    }
  }

  /**
   * The target keeps every version, each valid from a moment until the next one's.
   *
   * @param at the column of the source that says since when its row holds
   * @param from the target's column for the start of a version, included
   * @param until the target's column for its end, not included; null while it is open
   * @param current the target's column that is true for the open version, if there is one
   * @param versions the columns whose change makes a new version; all if there are none. The others
   *     are overwritten in place
   */
  record History(
      String at, String from, String until, Optional<String> current, List<String> versions)
      implements ExistingPolicy {
    public History {
      versions = List.copyOf(versions);
    }

    @Override
    public String toString() {
      return "history";
    }
  }
}
