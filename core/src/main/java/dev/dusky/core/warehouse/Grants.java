package dev.dusky.core.warehouse;

import dev.dusky.core.table.TableName;
import java.util.Collection;
import java.util.List;

/** The rights that a role needs, as statements to run. */
public interface Grants {

  /**
   * The grants for a role that reads: {@code files}, {@code journal}, {@code rejects}, {@code
   * balance}.
   */
  List<String> looking(String role, Collection<TableName> tables);

  /** The grants for a role that loads into existing tables. */
  List<String> loading(String role, String database, Collection<TableName> landing);

  /** The grants that a role needs besides if its loads replace what is in a table. */
  List<String> replacing(String role);

  /** The grants for a role that merges landed rows into existing targets. */
  List<String> merging(
      String role, String database, Collection<TableName> sources, Collection<TableName> targets);
}
