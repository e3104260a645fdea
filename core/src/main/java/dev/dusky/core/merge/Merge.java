package dev.dusky.core.merge;

import dev.dusky.core.table.TableName;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The declared way from landed rows into a target table.
 *
 * @param name its name
 * @param source where the rows come from
 * @param into the target
 * @param create whether the target is made when it does not exist
 * @param key the target's columns that identify its rows
 * @param latestBy columns of the source, most important first, that say which of several rows of
 *     one key is the latest
 * @param columns expressions for target columns, over columns of the source; all other columns come
 *     from those of the same name
 * @param existing what is done when the key is there
 * @param deleted which rows say that their key is gone
 * @param missing set if each file of the source is a full snapshot
 * @param surrogate the target's column that gets its own number, if there is one
 * @param placeholder the target's boolean column that marks members of which only the key is known
 * @param lookups columns that come from dimensions
 * @param newer a column of source and target: only rows beyond the target's greatest are taken
 * @param totals columns whose sums are kept from file to target
 * @param after merges that run before this one
 */
public record Merge(
    String name,
    MergeSource source,
    TableName into,
    boolean create,
    List<String> key,
    List<String> latestBy,
    Map<String, String> columns,
    ExistingPolicy existing,
    Optional<DeleteMarker> deleted,
    Optional<SnapshotPolicy> missing,
    Optional<String> surrogate,
    Optional<String> placeholder,
    List<Lookup> lookups,
    Optional<String> newer,
    List<String> totals,
    List<String> after) {

  public Merge {
    key = List.copyOf(key);
    latestBy = List.copyOf(latestBy);
    columns = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(columns));
    lookups = List.copyOf(lookups);
    totals = List.copyOf(totals);
    after = List.copyOf(after);
  }

  /** Its history, if it keeps one. */
  public Optional<ExistingPolicy.History> history() {
    return existing instanceof ExistingPolicy.History history
        ? Optional.of(history)
        : Optional.empty();
  }

  /** The columns of the target that the merge itself fills, besides those from the source. */
  public List<String> managed() {
    List<String> names = new java.util.ArrayList<>();
    history()
        .ifPresent(
            h -> {
              names.add(h.from());
              names.add(h.until());
              h.current().ifPresent(names::add);
            });
    surrogate.ifPresent(names::add);
    placeholder.ifPresent(names::add);
    deleted.flatMap(DeleteMarker::into).ifPresent(names::add);
    missing.flatMap(SnapshotPolicy::into).filter(c -> !names.contains(c)).ifPresent(names::add);
    lookups.forEach(lookup -> names.add(lookup.column()));
    return names;
  }
}
