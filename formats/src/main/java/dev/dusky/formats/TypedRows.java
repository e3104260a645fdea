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
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

/** A run of typed rows on its way from a decoder to a record batch. Recycled. */
final class TypedRows {

  /** How many rows a run has at most. */
  static final int MOST = 4096;

  private final List<String> names;
  private final List<SqlType> types;
  private final ColumnVector[] vectors;
  private final Map<Integer, RecordFault> faults = new HashMap<>();
  private int rows;
  private String group = "";
  private long firstRow;

  /** Empty rows; the names are those that a raw record shows. */
  TypedRows(List<String> names, List<SqlType> types) {
    this(names, types, IntStream.range(0, names.size()).toArray(), null);
  }

  /**
   * Empty rows of which only some columns are filled.
   *
   * @param sameAs for each column the first that is the same, or null if they all differ
   */
  TypedRows(List<String> names, List<SqlType> types, int[] columns, int[] sameAs) {
    this.names = names;
    this.types = types;
    this.vectors = new ColumnVector[names.size()];
    for (int c : columns) {
      boolean same = sameAs != null && sameAs[c] != c;
      vectors[c] = same ? vectors[sameAs[c]] : ColumnVector.of(types.get(c));
    }
  }

  /**
   * Makes room for that many rows.
   *
   * @param newGroup the container of the rows, such as "row group 3"
   * @param newFirstRow the number of the first in there, from 1
   */
  void begin(int count, String newGroup, long newFirstRow) {
    rows = count;
    group = newGroup;
    firstRow = newFirstRow;
    faults.clear();
    for (ColumnVector vector : vectors) {
      if (vector != null) {
        vector.reset(count);
      }
    }
  }

  ColumnVector vector(int column) {
    return vectors[column];
  }

  int rows() {
    return rows;
  }

  /** Keeps only the first rows, that many. */
  void cutTo(int count) {
    rows = count;
  }

  void fault(int row, RecordFault fault) {
    faults.putIfAbsent(row, fault);
  }

  /** Hands the rows over to a batch, which refers to them from now on. */
  void moveTo(RecordBatch batch) {
    move(List.of(this), batch);
  }

  /** Hands the same rows over to a batch, each part with its own columns. */
  static void move(List<TypedRows> parts, RecordBatch batch) {
    TypedRows first = parts.get(0);
    ColumnVector[] all = first.vectors.clone();
    for (TypedRows part : parts) {
      for (int c = 0; c < all.length; c++) {
        all[c] = part.vectors[c] == null ? all[c] : part.vectors[c];
      }
    }
    List<ColumnVector> vectors = List.of(all);
    RecordAppender.typed(
        batch, new TypedColumns(first.types, vectors, row -> first.raw(vectors, row)), first.rows);
    String where = first.group;
    long firstRow = first.firstRow;
    RecordAppender.places(batch, row -> "%s, row %d".formatted(where, firstRow + row));
    parts.forEach(part -> part.faults.forEach(batch::fault));
  }

  /** A row as JSON. */
  private byte[] raw(List<ColumnVector> all, int row) {
    StringBuilder json = new StringBuilder("{");
    for (int c = 0; c < names.size(); c++) {
      json.append(c == 0 ? "" : ",")
          .append(JsonStrings.quoted(names.get(c)))
          .append(':')
          .append(VectorText.json(types.get(c), all.get(c), row));
    }
    return json.append('}').toString().getBytes(StandardCharsets.UTF_8);
  }
}
