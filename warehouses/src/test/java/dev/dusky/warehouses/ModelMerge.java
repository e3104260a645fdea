package dev.dusky.warehouses;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** JdbcMerges in memory, one key after the other, the way one would by hand. */
final class ModelMerge {

  /** What a landed row comes to. */
  enum Outcome {
    INSERTED,
    UPDATED,
    UNCHANGED,
    SUPERSEDED,
    DELETED,
    REJECTED
  }

  /** A landed row; {@code ver} and {@code at} may be null. */
  record Landed(Integer k, Integer at, Integer ver, Integer v, Integer w, boolean gone) {}

  /** A row of the target; {@code until} is null for an open one, {@code at} for plain targets. */
  record Row(Integer from, Integer until, Integer ver, Integer v, Integer w, boolean marked) {}

  final Map<Outcome, Integer> tally = new EnumMap<>(Outcome.class);

  private void count(Outcome outcome, int rows) {
    tally.merge(outcome, rows, Integer::sum);
  }

  int tally(Outcome outcome) {
    return tally.getOrDefault(outcome, 0);
  }

  /** The row of a group that holds, if it can be determined; the others are counted. */
  private Landed latest(List<Landed> group) {
    Comparator<Landed> later =
        Comparator.comparing(Landed::ver, Comparator.nullsFirst(Comparator.naturalOrder()));
    Landed top = group.stream().max(later).orElseThrow();
    List<Landed> peers = group.stream().filter(l -> Objects.equals(l.ver(), top.ver())).toList();
    count(Outcome.SUPERSEDED, group.size() - peers.size());
    if (new HashSet<>(peers).size() > 1) {
      count(Outcome.REJECTED, peers.size());
      return null;
    }
    count(Outcome.SUPERSEDED, peers.size() - 1);
    return top;
  }

  /** A target with one row for each key. {@code existing} is keep, overwrite or only-w. */
  void plain(Map<Integer, Row> target, List<Landed> batch, String existing, String deleted) {
    Map<Integer, List<Landed>> groups = new HashMap<>();
    for (Landed row : batch) {
      if (row.k() == null) {
        count(Outcome.REJECTED, 1);
      } else {
        groups.computeIfAbsent(row.k(), k -> new ArrayList<>()).add(row);
      }
    }
    groups.forEach(
        (k, group) -> {
          Landed row = latest(group);
          if (row != null) {
            count(plain(target, row, existing, deleted), 1);
          }
        });
  }

  private static Outcome plain(
      Map<Integer, Row> target, Landed row, String existing, String deleted) {
    Row old = target.get(row.k());
    Row fresh = new Row(null, null, row.ver(), row.v(), row.w(), false);
    if (old == null) {
      if (row.gone()) {
        return Outcome.UNCHANGED;
      }
      target.put(row.k(), fresh);
      return Outcome.INSERTED;
    }
    boolean older = old.ver() != null && (row.ver() == null || row.ver() < old.ver());
    if (older) {
      return Outcome.SUPERSEDED;
    }
    if (row.gone()) {
      if (deleted.equals("delete")) {
        target.remove(row.k());
        return Outcome.DELETED;
      }
      if (old.marked()) {
        return Outcome.UNCHANGED;
      }
      target.put(row.k(), new Row(null, null, row.ver(), old.v(), old.w(), true));
      return Outcome.DELETED;
    }
    Row next =
        switch (existing) {
          case "keep" -> old;
          case "only-w" -> new Row(null, null, old.ver(), old.v(), row.w(), false);
          default -> fresh;
        };
    target.put(row.k(), next);
    return next.equals(old) ? Outcome.UNCHANGED : Outcome.UPDATED;
  }

  /** A target with a history: v makes versions, w is overwritten in place, gone rows end them. */
  void history(
      Map<Integer, List<Row>> target,
      List<Landed> batch,
      Map<Integer, TreeMap<Integer, Landed>> said) {
    Map<Integer, TreeMap<Integer, List<Landed>>> groups = new HashMap<>();
    for (Landed row : batch) {
      if (row.k() == null || row.at() == null) {
        count(Outcome.REJECTED, 1);
      } else {
        groups
            .computeIfAbsent(row.k(), k -> new TreeMap<>())
            .computeIfAbsent(row.at(), a -> new ArrayList<>())
            .add(row);
      }
    }
    groups.forEach(
        (k, moments) -> {
          TreeMap<Integer, Landed> landed = new TreeMap<>();
          moments.forEach(
              (at, rows) -> {
                Landed row = latest(rows);
                if (row != null) {
                  landed.put(at, row);
                }
              });
          TreeMap<Integer, Landed> before = said.computeIfAbsent(k, key -> new TreeMap<>());
          target.put(k, chain(target.getOrDefault(k, List.of()), landed, before));
          landed.forEach(
              (at, row) -> before.merge(at, row, (old, fresh) -> later(old, fresh) ? old : fresh));
        });
  }

  private static boolean later(Landed one, Landed other) {
    return one.ver() != null && (other.ver() == null || one.ver() > other.ver());
  }

  private List<Row> chain(
      List<Row> old, TreeMap<Integer, Landed> landed, TreeMap<Integer, Landed> said) {
    Map<Integer, Row> starts = old.stream().collect(Collectors.toMap(Row::from, r -> r));
    TreeMap<Integer, Object> line = new TreeMap<>();
    said.forEach(
        (at, row) -> {
          if (row.gone()) {
            line.put(at, "end");
          }
        });
    for (Row row : old) {
      if (row.until() != null) {
        line.put(row.until(), "end");
      }
    }
    old.forEach(row -> line.put(row.from(), row));
    line.putAll(landed);
    List<Row> chain = new ArrayList<>();
    boolean started = !old.isEmpty();
    Row open = null;
    Integer startW = null;
    Runnable none = () -> {};
    Runnable lastRepeat = none;
    boolean lastLanded = false;
    boolean startedNew = false;
    for (Map.Entry<Integer, Object> moment : line.entrySet()) {
      Integer at = moment.getKey();
      Row before = starts.get(at);
      boolean wasOpen = open != null;
      if (moment.getValue() instanceof Landed l
          && !l.gone()
          && wasOpen
          && before == null
          && Objects.equals(open.v(), l.v())) {
        count(Outcome.UNCHANGED, 1);
        Integer first = startW;
        lastRepeat =
            () -> {
              if (!Objects.equals(first, l.w())) {
                count(Outcome.UNCHANGED, -1);
                count(Outcome.UPDATED, 1);
              }
            };
        open = new Row(open.from(), null, null, open.v(), l.w(), false);
        started = true;
        lastLanded = true;
        continue;
      }
      boolean joins =
          moment.getValue() instanceof Row row
              && wasOpen
              && lastLanded
              && startedNew
              && Objects.equals(open.v(), row.v());
      if (joins) {
        lastRepeat = none;
        open = new Row(open.from(), null, null, open.v(), ((Row) moment.getValue()).w(), false);
        lastLanded = false;
        startedNew = false;
        continue;
      }
      if (wasOpen) {
        chain.add(new Row(open.from(), at, null, open.v(), open.w(), false));
        open = null;
      }
      lastRepeat.run();
      lastRepeat = none;
      if (moment.getValue() instanceof Landed l) {
        if (l.gone()) {
          boolean same = old.stream().anyMatch(r -> at.equals(r.until()));
          boolean changes = before != null || wasOpen && !same;
          count(changes ? Outcome.DELETED : Outcome.UNCHANGED, 1);
        } else {
          open = new Row(at, null, null, l.v(), l.w(), false);
          boolean same =
              before != null
                  && Objects.equals(before.v(), l.v())
                  && Objects.equals(before.w(), l.w());
          count(same ? Outcome.UNCHANGED : started ? Outcome.UPDATED : Outcome.INSERTED, 1);
          started = true;
        }
      } else if (moment.getValue() instanceof Row row) {
        open = new Row(row.from(), null, null, row.v(), row.w(), false);
      }
      lastLanded = moment.getValue() instanceof Landed l && !l.gone();
      startedNew = lastLanded && before == null;
      startW = open == null ? null : open.w();
    }
    lastRepeat.run();
    if (open != null) {
      chain.add(open);
    }
    return chain;
  }
}
