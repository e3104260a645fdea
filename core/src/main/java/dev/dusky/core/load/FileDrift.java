package dev.dusky.core.load;

import dev.dusky.core.bind.Sightings;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.drift.Drift;
import dev.dusky.core.drift.Drift.Action;
import dev.dusky.core.drift.Drift.Change;
import dev.dusky.core.drift.FileShape;
import dev.dusky.core.drift.Growth;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.DriftPolicy.Fields;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.table.SqlNames;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeGuess;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * How one file differs from its feed: what its header or schema says before it is read, and what
 * its records show while they are.
 */
final class FileDrift {

  /** The maximum number of drifts recorded per file. */
  private static final int MOST_TOLD = 1_000;

  private final Feed declared;
  private final List<GrownColumn> grown;
  private final StagedFile file;
  private final boolean mayGrow;
  private final List<Drift> drifts;
  private final Sightings seen = new Sightings();
  private boolean skipped;

  /**
   * The drift of one file.
   *
   * @param declared the feed with what came to it so far
   * @param grown what came to it
   * @param before what was done for this file already; the table does not grow again then
   */
  FileDrift(Feed declared, List<GrownColumn> grown, StagedFile file, Optional<List<Drift>> before) {
    this.declared = declared;
    this.grown = grown;
    this.file = file;
    this.mayGrow =
        before.isEmpty() && declared.policies().drift().map(DriftPolicy::grows).orElse(false);
    this.drifts = new ArrayList<>(before.orElse(List.of()));
  }

  /** The feed as it reads this file, as far as that can be determined before the file is opened. */
  Feed beforeOpening(Depot depot) throws IOException {
    if (declared.policies().drift().isEmpty()) {
      return declared;
    }
    if (declared.layout() instanceof JsonLayout) {
      return declared.withExtras(
          List.of(FeedColumn.text(FieldRequest.REST, new FieldSource.Named(FieldRequest.REST))));
    }
    if (declared.layout() instanceof ColumnarLayout) {
      try (InputStream stored = depot.open(file);
          FileContent content = new FileContent(file.path(), stored, declared.limits())) {
        List<DeclaredField> fields =
            Readers.fields(SourceFile.of(file.path(), content), declared.layout());
        return compared(fields.stream().map(DeclaredField::path).toList());
      }
    }
    return declared;
  }

  /** The feed as it reads this file, once its header is known. */
  Feed opened(Feed feed, List<String> names) {
    boolean header = declared.layout().naming() == FieldNaming.HEADER;
    return header && declared.policies().drift().isPresent() ? compared(names) : feed;
  }

  private Feed compared(List<String> names) {
    FileShape shape = FileShape.of(declared, grown, file.path(), names);
    for (Drift drift : shape.drifts()) {
      boolean told =
          drifts.stream()
              .anyMatch(d -> d.field().equals(drift.field()) && d.change() == drift.change());
      if (!told) {
        drifts.add(drift);
      }
    }
    if (shape.refusal().isPresent()) {
      throw shape.refusal().get();
    }
    return shape.feed();
  }

  /** Takes note of what a batch shows; false if its rows need not be written. */
  boolean take(Sightings batch) {
    seen.add(batch);
    boolean any = !seen.unknown().isEmpty() || !seen.misfits().isEmpty();
    skipped = skipped || mayGrow && any && !growth().columns().isEmpty();
    return !skipped;
  }

  /**
   * Draws the conclusions once the file is read.
   *
   * @return how the table has to grow first, if it has to; by no column if no type holds all values
   *     that were to widen one, so that the file only has to be read again
   * @throws Failure of kind FILE if the file is refused for it
   */
  Optional<Growth> conclude(long read) {
    Optional<DriftPolicy> policy = declared.policies().drift();
    if (policy.isEmpty()) {
      return Optional.empty();
    }
    drifts.replaceAll(d -> d.records() == 0 && d.action() != Action.REFUSED ? d.in(read) : d);
    boolean json = declared.layout() instanceof JsonLayout;
    int unknown = seen.unknown().size();
    if (json && unknown > 0 && policy.get().fields() == Fields.REFUSE) {
      seen.unknown().forEach((field, guess) -> add(field, Change.NEW, guess, Action.REFUSED));
      throw refused("%,d of its fields %s new: %s", unknown);
    }
    if (mayGrow && unknown > policy.get().most()) {
      seen.unknown().forEach((field, guess) -> add(field, Change.NEW, guess, Action.REFUSED));
      throw refused(
          "%,d of its fields %s new, and at most "
              + policy.get().most()
              + " may be added at once: %s",
          unknown);
    }
    if (mayGrow) {
      Growth growth = growth();
      if (skipped || !growth.columns().isEmpty()) {
        return Optional.of(growth);
      }
    }
    Action action = policy.get().captures() ? Action.CAPTURED : Action.IGNORED;
    seen.unknown().forEach((field, guess) -> add(field, Change.NEW, guess, action));
    if (policy.get().captures()) {
      seen.misfits().forEach((column, guess) -> add(column, Change.TYPE, guess, Action.CAPTURED));
    }
    return Optional.empty();
  }

  private void add(String field, Change change, TypeGuess guess, Action action) {
    if (drifts.size() < MOST_TOLD) {
      drifts.add(drift(field, change, guess, action));
    }
  }

  private static Drift drift(String field, Change change, TypeGuess guess, Action action) {
    String example = guess.example();
    return new Drift(
        field,
        change,
        guess.type().toString(),
        action,
        guess.count(),
        example.length() > 60 ? example.substring(0, 59) + "\u2026" : example,
        Optional.empty(),
        "");
  }

  private Failure refused(String form, int count) {
    List<String> names = seen.unknown().keySet().stream().limit(10).toList();
    return Failure.file(file.path() + " differs from feed " + declared.name())
        .because(
            form.formatted(count, count == 1 ? "is" : "are", String.join(", ", names))
                + (count > 10 ? " and more" : ""))
        .hint(
            "It waits until the file or the feed is changed: declare its columns, or let drift"
                + " extend, capture or ignore them");
  }

  private Growth growth() {
    boolean widen = declared.policies().drift().map(DriftPolicy::widen).orElse(false);
    List<GrownColumn> columns = new ArrayList<>();
    List<Drift> why = new ArrayList<>();
    Set<String> taken = new HashSet<>();
    declared.columns().forEach(column -> taken.add(column.name()));
    for (Map.Entry<String, TypeGuess> field : seen.unknown().entrySet()) {
      String stem = SqlNames.of(field.getKey().replace("[*]", ""), columns.size() + 1);
      String name = stem;
      for (int n = 2; !taken.add(name); n++) {
        name = stem + "_" + n;
      }
      columns.add(new GrownColumn(name, path(field.getKey()), field.getValue().type()));
      why.add(drift(field.getKey(), Change.NEW, field.getValue(), Action.EXTENDED));
    }
    for (Map.Entry<String, TypeGuess> misfit : seen.misfits().entrySet()) {
      FeedColumn column = declared.column(misfit.getKey()).orElseThrow();
      SqlType wider = misfit.getValue().widened(column.type());
      if (widen && !wider.equals(column.type())) {
        columns.add(new GrownColumn(column.name(), column.fieldName(), wider));
        why.add(drift(column.name(), Change.TYPE, misfit.getValue(), Action.WIDENED));
      }
    }
    return new Growth(columns, why);
  }

  /** How a feed asks for a field that the leftovers name. */
  private String path(String field) {
    if (!(declared.layout() instanceof JsonLayout)) {
      return field;
    }
    return field.startsWith("[") ? "$" + field : "$." + field;
  }

  /** The same file looked at once more, with nothing noted yet. */
  FileDrift again() {
    return new FileDrift(declared, grown, file, Optional.of(List.of()));
  }

  /** All that was found. */
  List<Drift> all() {
    return drifts;
  }
}
