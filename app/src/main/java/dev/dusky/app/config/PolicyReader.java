package dev.dusky.app.config;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.expect.Expectations;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.expect.VolumePolicy;
import dev.dusky.core.feed.DepotFolder;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.DriftPolicy.Fields;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.repeat.RepeatPolicy.Keep;
import dev.dusky.core.repeat.RepeatPolicy.Scope;
import dev.dusky.core.table.Arrangement;
import dev.dusky.core.table.PartitionField;
import dev.dusky.core.table.SortField;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.depots.address.DepotAddress;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Reads what a feed does about rejects, and what it expects of its files. */
final class PolicyReader {

  private final Section feed;
  private final ConfigProblems problems;
  private final Map<String, DepotAddress> depots;

  PolicyReader(Section feed, ConfigProblems problems, Map<String, DepotAddress> depots) {
    this.feed = feed;
    this.problems = problems;
    this.depots = depots;
  }

  FeedPolicies read(ContentLimits limits) {
    Tolerance file = Tolerance.NONE;
    Tolerance load = new Tolerance.Any();
    Optional<Node> node = feed.node("tolerance");
    if (node.isPresent() && node.get() instanceof Node.Fields) {
      Section section = feed.section("tolerance", node.get());
      file = tolerance(section, "file", file);
      load = tolerance(section, "load", load);
      section.done();
    } else {
      file = tolerance(feed, "tolerance", file);
    }
    return new FeedPolicies(
        file,
        load,
        feed.number("reject-cap", 1, 10_000_000, FeedPolicies.DEFAULT_REJECT_CAP),
        limits,
        expectations(),
        repeats(),
        new ArrivalsReader(feed).read(),
        drift(),
        new ModeReader(feed).read(),
        rejectsTo(),
        new Arrangement(
            fields(
                "partition",
                PartitionField::parse,
                "a column, or year, month, day or hour(column), bucket(16, column) or truncate(4, column)"),
            fields("sort", SortField::parse, "a column, or 'column desc'")));
  }

  /** Reads a list of fields, of the forms that {@code forms} says. */
  private <T> List<T> fields(String key, Function<String, Optional<T>> parse, String forms) {
    List<T> fields = new ArrayList<>();
    for (String text : feed.texts(key).orElse(List.of())) {
      Optional<T> field = parse.apply(text);
      if (field.isEmpty()) {
        feed.problem(key, "%s cannot have '%s'; it is %s".formatted(key, text, forms));
      }
      field.ifPresent(fields::add);
    }
    return fields;
  }

  private static Tolerance tolerance(Section section, String key, Tolerance otherwise) {
    Optional<String> text = section.text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    Optional<Tolerance> tolerance = Tolerance.parse(text.get());
    if (tolerance.isEmpty()) {
      section.problem(
          key,
          "%s cannot be '%s'; it is a count (25), a share (0.5%%) or any"
              .formatted(key, text.get()));
    }
    return tolerance.orElse(otherwise);
  }

  private Expectations expectations() {
    List<String> totals = feed.texts("totals").orElse(List.of());
    Optional<Node> node = feed.node("expect");
    if (node.isEmpty()) {
      return new Expectations(totals, Optional.empty(), Optional.empty(), Optional.empty());
    }
    Section section = feed.section("expect", node.get());
    Optional<Trailer> trailer =
        section.node("trailer").map(n -> trailer(section.section("trailer", n)));
    Optional<String> sidecar = section.text("sidecar");
    section.node("arrivals"); // read with the feed's name
    Optional<VolumePolicy> volume = section.node("volume").map(n -> volume(section, n));
    section.done();
    trailer.ifPresent(
        t ->
            t.totals().keySet().stream()
                .filter(column -> !totals.contains(column))
                .forEach(
                    column ->
                        section.problem(
                            "trailer",
                            "the trailer states a sum of %s: add %s to totals"
                                .formatted(column, column))));
    return new Expectations(totals, trailer, sidecar, volume);
  }

  /** {@code usual}, or {@code {refuse: 50%, nulls: [litres]}}. */
  private static VolumePolicy volume(Section section, Node node) {
    if (!(node instanceof Node.Fields)) {
      String word = section.text("volume").orElse("");
      if (!word.equals("usual")) {
        section.problem(
            "volume",
            "volume cannot be '%s'; it is usual or { refuse: 50%%, nulls: [column] }"
                .formatted(word));
      }
      return VolumePolicy.USUAL;
    }
    Section volume = section.section("volume", node);
    List<String> nulls = volume.texts("nulls").orElse(List.of());
    Optional<String> refuse = volume.text("refuse");
    refuse
        .filter(text -> !text.matches("[1-9]\\d{0,3}%"))
        .ifPresent(
            text ->
                volume.problem(
                    "refuse", "refuse cannot be '%s'; it is a share such as 50%%".formatted(text)));
    volume.done();
    return new VolumePolicy(
        nulls,
        refuse
            .filter(text -> text.matches("[1-9]\\d{0,3}%"))
            .map(text -> Integer.parseInt(text.substring(0, text.length() - 1)) / 100.0));
  }

  private Trailer trailer(Section section) {
    String begins = section.required("begins");
    Optional<Trailer.Part> rows = section.node("rows").flatMap(n -> part(section, "rows", n));
    Map<String, Trailer.Part> totals = new LinkedHashMap<>();
    Optional<Node> sums = section.node("totals");
    if (sums.isPresent()) {
      section
          .section("totals", sums.get())
          .all()
          .forEach(
              (name, n) -> part(section, "totals", n).ifPresent(part -> totals.put(name, part)));
    }
    if (rows.isEmpty() && totals.isEmpty()) {
      problems.add(section.line(), "a trailer needs rows, totals, or both");
    }
    section.done();
    return new Trailer(begins, rows, totals);
  }

  /** A field's position, or {@code {start: 3, length: 9}}. */
  private Optional<Trailer.Part> part(Section section, String key, Node node) {
    if (node instanceof Node.Fields) {
      Section characters = section.section(key, node);
      Trailer.Part part =
          new Trailer.Characters(
              characters.number("start", 1, 1_000_000, 1),
              characters.number("length", 1, 1_000, 1));
      characters.done();
      return Optional.of(part);
    }
    if (node instanceof Node.Scalar scalar
        && scalar.text() != null
        && scalar.text().matches("[1-9]\\d{0,3}")) {
      return Optional.of(new Trailer.Field(Integer.parseInt(scalar.text())));
    }
    section.problem(
        key, key + " is a field's position, such as 2, or { start: 2, length: 9 } in characters");
    return Optional.empty();
  }

  /** {@code repeats: row}, {@code counted}, {@code uncounted}, or what makes rows the same. */
  private RepeatPolicy repeats() {
    Optional<Node> node = feed.node("repeats");
    RepeatPolicy plain = RepeatPolicy.COUNTED;
    if (node.isEmpty()) {
      return plain;
    }
    if (!(node.get() instanceof Node.Fields)) {
      String word = feed.text("repeats").orElse("");
      if (!List.of("row", "counted", "uncounted").contains(word)) {
        feed.problem(
            "repeats",
            "repeats cannot be '%s'; it is row, counted, uncounted, or a block with key, scope, keep"
                .formatted(word));
      }
      return new RepeatPolicy(
          word.equals("row"),
          List.of(),
          plain.scope(),
          plain.keep(),
          List.of(),
          word.equals("uncounted") ? 0 : plain.memory());
    }
    Section section = feed.section("repeats", node.get());
    RepeatPolicy policy =
        new RepeatPolicy(
            true,
            section.texts("key").orElse(List.of()),
            section.choice("scope", Section.labels(Scope.values(), Scope::label), Scope.FILE),
            section.choice("keep", Section.labels(Keep.values(), Keep::label), Keep.FIRST),
            section.texts("by").orElse(List.of()),
            section.number("memory", 1, 1_000_000, plain.memory()));
    if (policy.keep() != Keep.FIRST && policy.scope() != Scope.FILE) {
      section.problem(
          "keep",
          "keep: %s needs scope: file; posted rows are not removed. To keep the latest of"
                  .formatted(policy.keep().label())
              + " all that landed, declare a merge with latest-by");
    }
    if (policy.keep() == Keep.LATEST == policy.by().isEmpty()) {
      section.problem("keep", "keep: latest and by: [columns] belong together");
    }
    section.done();
    return policy;
  }

  /** {@code drift: capture}, or a block with new, widen, most. */
  private Optional<DriftPolicy> drift() {
    Optional<Node> node = feed.node("drift");
    if (node.isEmpty()) {
      return Optional.empty();
    }
    Map<String, Fields> ways = Section.labels(Fields.values(), Fields::label);
    if (!(node.get() instanceof Node.Fields)) {
      return Optional.of(DriftPolicy.of(feed.choice("drift", ways, Fields.REFUSE)));
    }
    Section section = feed.section("drift", node.get());
    DriftPolicy policy =
        new DriftPolicy(
            section.choice("new", ways, Fields.REFUSE),
            section.flag("widen", false),
            section.number("most", 1, 1_000, DriftPolicy.DEFAULT_MOST));
    if (policy.widen() && !policy.grows()) {
      section.problem("widen", "widen: true needs new: extend");
    }
    section.done();
    return Optional.of(policy);
  }

  private Optional<DepotFolder> rejectsTo() {
    Optional<String> text = feed.text("rejects-to");
    if (text.isEmpty()) {
      return Optional.empty();
    }
    int colon = text.get().indexOf(':');
    String depot = colon < 0 ? "" : text.get().substring(0, colon);
    if (colon < 1 || !depots.containsKey(depot)) {
      feed.problem(
          "rejects-to",
          "'%s' is not a folder of a depot: write depot:folder/, with one of %s"
              .formatted(text.get(), String.join(", ", depots.keySet())));
      return Optional.empty();
    }
    if (!depots.get(depot).writable()) {
      feed.problem("rejects-to", "depot " + depot + " is only read; name one that is written");
    }
    String folder = text.get().substring(colon + 1);
    if (folder.startsWith("/") || List.of(folder.split("/")).contains("..")) {
      feed.problem("rejects-to", "'" + folder + "' is outside the depot");
    }
    return Optional.of(
        new DepotFolder(depot, folder.isEmpty() || folder.endsWith("/") ? folder : folder + "/"));
  }
}
