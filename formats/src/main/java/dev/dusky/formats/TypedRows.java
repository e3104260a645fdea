package dev.dusky.formats;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.record.RecordAppender;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.record.TypedColumns;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.VectorText;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A run of typed rows on its way from a decoder to a record batch. Recycled. */
final class TypedRows {

  /** How many rows a run has at most. */
  static final int MOST = 4096;

  private final List<String> names;
  private final List<SqlType> types;
  private final List<ColumnVector> vectors;
  private final Map<Integer, RecordFault> faults = new HashMap<>();
  private int rows;
  private String group = "";
  private long firstRow;

  /** Empty rows; the names are those that a raw record shows. */
  TypedRows(List<String> names, List<SqlType> types) {
    this(names, types, types.stream().map(ColumnVector::of).toList());
  }

  private TypedRows(List<String> names, List<SqlType> types, List<ColumnVector> vectors) {
    this.names = names;
    this.types = types;
    this.vectors = vectors;
  }

  /** Empty rows of which some columns are the same; {@code sameAs} has the first of each. */
  static TypedRows sharing(List<String> names, List<SqlType> types, int[] sameAs) {
    List<ColumnVector> vectors = new ArrayList<>();
    for (int c = 0; c < sameAs.length; c++) {
      vectors.add(sameAs[c] == c ? ColumnVector.of(types.get(c)) : vectors.get(sameAs[c]));
    }
    return new TypedRows(names, types, vectors);
  }

  /**
   * Makes room for so many rows.
   *
   * @param newGroup what the rows stand in, such as "row group 3"
   * @param newFirstRow the number of the first in there, from 1
   */
  void begin(int count, String newGroup, long newFirstRow) {
    rows = count;
    group = newGroup;
    firstRow = newFirstRow;
    faults.clear();
    vectors.forEach(vector -> vector.reset(count));
  }

  ColumnVector vector(int column) {
    return vectors.get(column);
  }

  int rows() {
    return rows;
  }

  /** Drops the rows behind the first so many. */
  void cutTo(int count) {
    rows = count;
  }

  void fault(int row, RecordFault fault) {
    faults.putIfAbsent(row, fault);
  }

  /** Hands the rows over to a batch, which refers to them from now on. */
  void moveTo(RecordBatch batch) {
    RecordAppender.typed(batch, new TypedColumns(types, vectors, this::raw), rows);
    String where = group;
    long first = firstRow;
    RecordAppender.places(batch, row -> "%s, row %d".formatted(where, first + row));
    faults.forEach(batch::fault);
  }

  /** A row as JSON. */
  private byte[] raw(int row) {
    StringBuilder json = new StringBuilder("{");
    for (int c = 0; c < names.size(); c++) {
      json.append(c == 0 ? "" : ",")
          .append(JsonStrings.quoted(names.get(c)))
          .append(':')
          .append(VectorText.json(types.get(c), vectors.get(c), row));
    }
    return json.append('}').toString().getBytes(StandardCharsets.UTF_8);
  }
}
