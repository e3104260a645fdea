package dev.dusky.lake.service;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.iceberg.DataOperations;
import org.apache.iceberg.PartitionSpec;
import org.apache.iceberg.Schema;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.SnapshotParser;
import org.apache.iceberg.SnapshotRef;
import org.apache.iceberg.SortOrder;
import org.apache.iceberg.TableMetadata;

/**
 * What two metadata of a table differ in, so that a catalog that writes metadata itself can be
 * asked for the change.
 */
final class MetadataDifference {

  /** The entry in a state's summary that says which intent it belongs to. */
  static final String TOKEN = "dusky.intent";

  private static final ObjectMapper JSON = new ObjectMapper();

  private final TableMetadata base;
  private final TableMetadata next;
  private final boolean made;

  /**
   * What differs.
   *
   * @param made whether the catalog has just made the base; what it added to the properties stays
   */
  MetadataDifference(TableMetadata base, TableMetadata next, boolean made) {
    this.base = base;
    this.next = next;
    this.made = made;
  }

  /** The states that are new, in the order in which they were made. */
  List<Snapshot> states() {
    return next.snapshots().stream().filter(s -> base.snapshot(s.snapshotId()) == null).toList();
  }

  /** Whether rows were appended, and nothing else was done. */
  boolean appends() {
    return states().stream().allMatch(s -> s.operation().equals(DataOperations.APPEND))
        && states().size() > 0
        && next.snapshots().containsAll(base.snapshots())
        && base.currentSchemaId() == next.currentSchemaId()
        && base.properties().equals(next.properties())
        && base.refs().keySet().equals(next.refs().keySet());
  }

  /**
   * The base with all changes, which it knows as such.
   *
   * @param token what the current state is marked with, if it is a new one
   */
  TableMetadata changed(String token) {
    TableMetadata.Builder builder = TableMetadata.buildFrom(base);
    if (next.formatVersion() > base.formatVersion()) {
      builder.upgradeFormatVersion(next.formatVersion());
    }
    properties(builder);
    shape(builder);
    Snapshot current = next.currentSnapshot();
    for (Snapshot state : states()) {
      boolean last = current != null && state.snapshotId() == current.snapshotId();
      builder.addSnapshot(last ? withToken(state, token) : state);
    }
    refs(builder);
    Set<Long> gone = new HashSet<>();
    base.snapshots().forEach(state -> gone.add(state.snapshotId()));
    next.snapshots().forEach(state -> gone.remove(state.snapshotId()));
    if (!gone.isEmpty()) {
      builder.removeSnapshots(gone);
    }
    return builder.build();
  }

  private void properties(TableMetadata.Builder builder) {
    Map<String, String> set = new HashMap<>(next.properties());
    set.entrySet().removeAll(base.properties().entrySet());
    Set<String> removed = new HashSet<>(base.properties().keySet());
    removed.removeAll(next.properties().keySet());
    if (!set.isEmpty()) {
      builder.setProperties(set);
    }
    if (!removed.isEmpty() && !made) {
      builder.removeProperties(removed);
    }
  }

  private void shape(TableMetadata.Builder builder) {
    for (Schema schema : next.schemas()) {
      if (!base.schemasById().containsKey(schema.schemaId())) {
        builder.addSchema(schema);
      }
    }
    if (next.currentSchemaId() != base.currentSchemaId()) {
      builder.setCurrentSchema(next.currentSchemaId());
    }
    for (PartitionSpec parts : next.specs()) {
      if (!base.specsById().containsKey(parts.specId())) {
        builder.addPartitionSpec(parts);
      }
    }
    if (next.defaultSpecId() != base.defaultSpecId()) {
      builder.setDefaultPartitionSpec(next.defaultSpecId());
    }
    for (SortOrder order : next.sortOrders()) {
      if (!base.sortOrdersById().containsKey(order.orderId())) {
        builder.addSortOrder(order);
      }
    }
    if (next.defaultSortOrderId() != base.defaultSortOrderId()) {
      builder.setDefaultSortOrder(next.defaultSortOrderId());
    }
  }

  private void refs(TableMetadata.Builder builder) {
    next.refs()
        .forEach(
            (name, ref) -> {
              if (!ref.equals(base.ref(name))) {
                builder.setRef(name, ref);
              }
            });
    for (Map.Entry<String, SnapshotRef> ref : base.refs().entrySet()) {
      if (!next.refs().containsKey(ref.getKey())) {
        builder.removeRef(ref.getKey());
      }
    }
  }

  private static Snapshot withToken(Snapshot state, String token) {
    try {
      ObjectNode json = (ObjectNode) JSON.readTree(SnapshotParser.toJson(state));
      json.withObject("/summary").put(TOKEN, token);
      return SnapshotParser.fromJson(json.toString());
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("the library's own JSON", e);
    }
  }

  /** The state in force, or one that it was made from, that is marked with a token. */
  static Optional<Snapshot> marked(TableMetadata table, String token) {
    return since(table, table.currentSnapshot(), Intent.NONE).stream()
        .filter(state -> token.equals(state.summary().get(TOKEN)))
        .findFirst();
  }

  /**
   * The states of a table from one back to a base that it does not include, as far as they are
   * known.
   */
  static List<Snapshot> since(TableMetadata table, Snapshot last, long base) {
    List<Snapshot> states = new ArrayList<>();
    for (Snapshot state = last;
        state != null && state.snapshotId() != base;
        state = state.parentId() == null ? null : table.snapshot(state.parentId())) {
      states.add(state);
    }
    return states;
  }
}
