package dev.dusky.core.layout;

import java.util.List;

/**
 * Several kinds of record in one file, distinguished by a field.
 *
 * @param start the first character of that field, from 1
 * @param length its length in characters
 * @param rows the kinds that become rows
 * @param skip the kinds that are skipped, unless fields of theirs are carried
 */
public record RecordKinds(int start, int length, List<String> rows, List<String> skip) {

  public RecordKinds {
    rows = List.copyOf(rows);
    skip = List.copyOf(skip);
  }
}
