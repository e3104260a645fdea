package dev.dusky.core.record;

import dev.dusky.core.json.JsonMembers;
import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.reject.RejectCode;
import java.nio.charset.StandardCharsets;

/**
 * Finds the fields of JSON records, and turns the elements of arrays into rows where the layout
 * says so. Fields point into the records' own bytes. Hot.
 */
final class JsonFields implements FieldSplitter {

  private final JsonPlan plan;
  private final JsonPlan.Field[] fields;
  private final JsonMembers[] members;
  private final byte[][] carried;
  private final JsonTree tree = new JsonTree();
  private final RecordBatch out = new RecordBatch(0);
  private final JsonRest rest;
  private final boolean inMembers;
  private final int[] elements;
  private final int[] carriedAt;
  private RecordBatch in;
  private int record;
  private int free;
  private RecordFault fault;

  /** A splitter; {@code carried} has the carried values as JSON text, null where there is none. */
  JsonFields(JsonPlan plan) {
    this.plan = plan;
    this.fields = plan.fields().toArray(JsonPlan.Field[]::new);
    this.rest = plan.fields().stream().anyMatch(f -> f.path() == null) ? new JsonRest(plan) : null;
    this.members = plan.firstNames().stream().map(JsonMembers::new).toArray(JsonMembers[]::new);
    this.carried = new byte[plan.carried()][];
    this.carriedAt = new int[plan.carried()];
    this.elements = new int[plan.levels().size() + 1];
    this.inMembers = plan.members();
  }

  @Override
  public RecordBatch split(RecordBatch records) {
    in = records;
    out.share(records);
    free = records.usedBytes();
    for (int i = 0; i < carried.length; i++) {
      byte[] value = records.carried() == null ? null : records.carried()[i];
      carriedAt[i] = value == null ? -1 : append(value);
      carried[i] = value;
    }
    for (record = 0; record < records.records(); record++) {
      int from = records.rawStart(record);
      int to = records.rawEnd(record);
      if (records.fault(record) != null) {
        out.copyFaulty(records, record);
      } else if (!tree.read(out.bytes(), from, to)) {
        faulty(
            new RecordFault(
                RejectCode.BAD_JSON,
                0,
                "the record is not JSON: at byte %d of it, %s"
                    .formatted(tree.failedAt() - from + 1, tree.failure())));
      } else if (inMembers && !tree.isObject(0)) {
        faulty(
            new RecordFault(
                RejectCode.BAD_JSON,
                0,
                "the record is not an object, so it has none of the feed's members"));
      } else {
        fault = null;
        elements[0] = 0;
        descend(0);
        if (fault != null) {
          faulty(fault);
        }
      }
    }
    return out;
  }

  private void faulty(RecordFault why) {
    out.finishFaultyAs(in, record, why);
  }

  private void descend(int level) {
    members[level].find(tree, elements[level]);
    if (level == plan.levels().size()) {
      row();
      return;
    }
    int array = elements[level] < 0 ? -1 : plan.levels().get(level).single(tree, elements[level]);
    boolean any = false;
    if (array >= 0 && tree.isContainer(array)) {
      int last = tree.next(array);
      for (int child = array + 1; child < last && fault == null; child = tree.next(child)) {
        any = true;
        elements[level + 1] = child;
        descend(level + 1);
      }
    }
    if (!any && plan.emptyRows() == EmptyRows.ONE) {
      elements[level + 1] = -1;
      descend(level + 1);
    }
  }

  private void row() {
    for (JsonPlan.Field field : fields) {
      if (field.carried() >= 0) {
        carriedField(field);
        continue;
      }
      if (field.path() == null) {
        rest();
        continue;
      }
      int from = elements[field.level()];
      if (from < 0) {
        out.addField(0, 0, false, false);
      } else if (field.path().singular()) {
        int node = field.slot() < 0 ? from : members[field.level()].node(field.slot());
        if (node >= 0 && field.rest() != null) {
          node = field.rest().single(tree, node);
        }
        if (node == JsonPath.REPEATED) {
          fault =
              new RecordFault(
                  RejectCode.REPEATED_MEMBER,
                  0,
                  "a member on the path %s occurs more than once".formatted(field.path()));
          break;
        }
        value(field, node);
      } else {
        several(field, field.path().select(tree, 0, from));
      }
    }
    if (fault == null) {
      out.finishRecordAs(in, record);
    } else {
      out.dropOpenFields();
    }
  }

  private void rest() {
    byte[] text = rest.of(tree, elements);
    if (text == null) {
      out.addField(0, 0, false, false);
    } else {
      int at = append(text);
      out.addField(at, at + text.length, true, false);
    }
  }

  private void value(JsonPlan.Field field, int node) {
    if (node < 0) {
      out.addField(0, 0, false, false);
      return;
    }
    int start = tree.start(node);
    int end = tree.end(node);
    switch (tree.kind(node)) {
      case NULL -> out.addField(0, 0, false, false);
      case STRING -> {
        if (field.json()) {
          out.addField(start, end, true, false);
        } else {
          out.addField(start + 1, end - 1, true, tree.escaped(node));
        }
      }
      default -> out.addField(start, end, false, false);
    }
  }

  private void several(JsonPlan.Field field, int[] nodes) {
    if (!field.json()) {
      if (nodes.length > 1) {
        fault =
            new RecordFault(
                RejectCode.SEVERAL_VALUES,
                0,
                "the path %s gives %,d values".formatted(field.path(), nodes.length));
      }
      value(field, nodes.length == 1 ? nodes[0] : -1);
      return;
    }
    StringBuilder list = new StringBuilder("[");
    for (int node : nodes) {
      list.append(list.length() > 1 ? "," : "")
          .append(
              new String(
                  tree.bytes(),
                  tree.start(node),
                  tree.end(node) - tree.start(node),
                  StandardCharsets.UTF_8));
    }
    byte[] text = list.append(']').toString().getBytes(StandardCharsets.UTF_8);
    int at = append(text);
    out.addField(at, at + text.length, true, false);
  }

  private void carriedField(JsonPlan.Field field) {
    int at = carriedAt[field.carried()];
    byte[] value = carried[field.carried()];
    if (at < 0 || value[0] == 'n') {
      out.addField(0, 0, false, false);
    } else if (value[0] == '"' && !field.json()) {
      out.addField(at + 1, at + value.length - 1, true, true);
    } else {
      out.addField(at, at + value.length, false, false);
    }
  }

  private int append(byte[] text) {
    int at = free;
    free = out.putBytes(free, text);
    return at;
  }
}
