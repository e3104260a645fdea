package dev.dusky.core.table;

import java.util.List;

/**
 * How the rows of a table in object storage are arranged in data files.
 *
 * @param partition by what the table is divided
 * @param sort by what the rows of each data file are sorted
 */
public record Arrangement(List<PartitionField> partition, List<SortField> sort) {

  /** As they come. */
  public static final Arrangement NONE = new Arrangement(List.of(), List.of());

  /** With copies of the lists. */
  public Arrangement {
    partition = List.copyOf(partition);
    sort = List.copyOf(sort);
  }
}
