package dev.dusky.formats;

import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.vector.BytesVector;
import java.nio.charset.StandardCharsets;
import java.util.StringJoiner;

/** Finds a path's value in the JSON of a structure. */
final class NestedValues {

  private final JsonTree tree = new JsonTree();

  /** Puts the value into a text or JSON column of a row; null if there is no JSON. */
  void put(String json, SchemaPath path, SqlType type, TypedRows rows, int column, int row) {
    BytesVector vector = (BytesVector) rows.vector(column);
    if (json == null) {
      vector.setNull(row);
      return;
    }
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    if (path.rest().isEmpty()) {
      vector.set(row, bytes, 0, bytes.length);
      return;
    }
    if (!tree.read(bytes, 0, bytes.length)) {
      throw new IllegalStateException("a structure came out as broken JSON: " + tree.failure());
    }
    JsonPath rest = path.restPath();
    int[] nodes = rest.select(tree, 0, 0);
    boolean wantsJson = type.kind() == TypeKind.JSON;
    if (wantsJson && !rest.singular()) {
      StringJoiner list = new StringJoiner(",", "[", "]");
      for (int node : nodes) {
        list.add(
            new String(
                bytes,
                tree.start(node),
                tree.end(node) - tree.start(node),
                StandardCharsets.UTF_8));
      }
      byte[] all = list.toString().getBytes(StandardCharsets.UTF_8);
      vector.set(row, all, 0, all.length);
    } else if (nodes.length > 1) {
      vector.setNull(row);
      rows.fault(
          row,
          new RecordFault(
              RejectCode.SEVERAL_VALUES,
              0,
              "the path %s gives %,d values".formatted(path.text(), nodes.length)));
    } else if (nodes.length == 0 || tree.kind(nodes[0]) == JsonTree.Kind.NULL) {
      vector.setNull(row);
    } else {
      int node = nodes[0];
      byte[] value =
          wantsJson
              ? java.util.Arrays.copyOfRange(bytes, tree.start(node), tree.end(node))
              : tree.text(node).getBytes(StandardCharsets.UTF_8);
      vector.set(row, value, 0, value.length);
    }
  }
}
