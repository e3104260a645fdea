package dev.dusky.core.merge;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * The order in which merges run: those first that others wait for, by name where it does not
 * matter. A merge waits for those it names in {@code after}, and for those that keep the dimensions
 * it looks into.
 */
public final class MergeOrder {

  private final Map<String, Merge> merges;

  /** The order of these, by name. */
  public MergeOrder(Map<String, Merge> merges) {
    this.merges = new TreeMap<>(merges);
  }

  /** The names of those that must run before this one. */
  public Set<String> before(Merge merge) {
    Set<String> names = new LinkedHashSet<>(merge.after());
    for (Lookup lookup : merge.lookups()) {
      for (Merge other : merges.values()) {
        if (other.into().equals(lookup.table()) && !other.name().equals(merge.name())) {
          names.add(other.name());
        }
      }
    }
    return names;
  }

  /** The first of these names that a merge must wait for, if it must for one. */
  public Optional<String> waitsFor(Merge merge, Set<String> names) {
    return before(merge).stream().filter(names::contains).findFirst();
  }

  /** A circle of merges that wait for one another, its first name repeated at its end. */
  public Optional<List<String>> circle() {
    Set<String> done = new LinkedHashSet<>();
    for (String name : merges.keySet()) {
      List<String> path = new ArrayList<>();
      Optional<List<String>> circle = visit(name, path, done);
      if (circle.isPresent()) {
        return circle;
      }
    }
    return Optional.empty();
  }

  /** These, in the order in which they run. There must be no circle. */
  public List<Merge> of(Collection<Merge> chosen) {
    Set<String> done = new LinkedHashSet<>();
    for (String name : merges.keySet()) {
      visit(name, new ArrayList<>(), done);
    }
    return done.stream().map(merges::get).filter(chosen::contains).toList();
  }

  private Optional<List<String>> visit(String name, List<String> path, Set<String> done) {
    int seen = path.indexOf(name);
    if (seen >= 0) {
      List<String> circle = new ArrayList<>(path.subList(seen, path.size()));
      circle.add(name);
      return Optional.of(circle);
    }
    if (done.contains(name) || !merges.containsKey(name)) {
      return Optional.empty();
    }
    path.add(name);
    for (String earlier : before(merges.get(name))) {
      Optional<List<String>> circle = visit(earlier, path, done);
      if (circle.isPresent()) {
        return circle;
      }
    }
    path.remove(path.size() - 1);
    done.add(name);
    return Optional.empty();
  }
}
