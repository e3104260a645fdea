package dev.dusky.app.config;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.source.RowFiles;
import dev.dusky.core.source.Source;
import dev.dusky.core.stream.StreamName;
import dev.dusky.core.warehouse.Warehouses;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Reads the sources: queries on databases whose rows are staged. */
final class SourcesReader {

  /** How far behind the high water times are read again unless the source says otherwise. */
  private static final Duration OVERLAP = Duration.ofMinutes(5);

  private static final Duration LONGEST = Duration.ofDays(365);
  private static final long ROLL = 64_000_000;

  private final ConfigProblems problems;
  private final Secrets secrets;
  private final Path base;

  SourcesReader(ConfigProblems problems, Secrets secrets, Path base) {
    this.problems = problems;
    this.secrets = secrets;
    this.base = base;
  }

  Map<String, Source> read(Map<String, Node> nodes) {
    Map<String, Source> sources = new LinkedHashMap<>();
    nodes.forEach(
        (name, node) ->
            sources.put(name, source(name, new Section("source " + name, node, problems))));
    return sources;
  }

  private Source source(String name, Section section) {
    if (!name.matches(ConfigurationReader.NAME)) {
      section.problem(
          "", "'%s' is not a name for a source: use letters, digits, - and _".formatted(name));
    }
    Source source =
        new Source(
            name,
            new Source.Address(
                url(section),
                section.text("user"),
                secrets.get(section, "password"),
                section.text("driver").map(base::resolve)),
            section.required("query"),
            newer(section),
            slices(section),
            as(section, name),
            manifest(section, name),
            roll(section));
    section.done();
    return source;
  }

  /** The URL with a relative H2 file made absolute. */
  private String url(Section section) {
    String url = section.required("at");
    if (!url.isEmpty() && !url.startsWith("jdbc:")) {
      section.problem("at", "at must be a JDBC URL, such as jdbc:postgresql://host/database");
    }
    if (ConfigurationReader.tellsSecrets(url)) {
      section.problem("at", "user and password do not belong in the URL; give them as keys");
    }
    return Warehouses.resolve(url, base).orElse(url);
  }

  private static Optional<Source.Newer> newer(Section section) {
    Optional<String> column = section.text("newer");
    Optional<String> overlap = section.text("overlap");
    if (overlap.isPresent() && column.isEmpty()) {
      section.problem("overlap", "overlap needs newer: the column that says which rows are newer");
    }
    boolean number = overlap.isPresent() && overlap.get().matches("\\d{1,18}");
    Optional<Duration> span =
        overlap.flatMap(DurationText::parse).filter(s -> s.compareTo(LONGEST) <= 0);
    if (overlap.isPresent() && !number && span.isEmpty()) {
      section.problem(
          "overlap",
          "overlap cannot be '%s'; write a span such as 10 min or 1 d, or a number for a column of numbers"
              .formatted(overlap.get()));
    }
    return column.map(
        name ->
            new Source.Newer(
                name,
                span.orElse(number ? Duration.ZERO : OVERLAP),
                number ? Long.parseLong(overlap.get()) : 0));
  }

  private static Optional<Source.Slices> slices(Section section) {
    Optional<Node> node = section.node("slices");
    if (node.isEmpty()) {
      return Optional.empty();
    }
    Section slices = section.section("slices", node.get());
    Source.Slices result =
        new Source.Slices(slices.required("by"), slices.number("number", 2, 64, 4));
    slices.done();
    return Optional.of(result);
  }

  private static StreamName as(Section section, String name) {
    StreamName as =
        template(section, "as", section.text("as").orElse(name + "/{date}/{time}-{n}.parquet"));
    if (!RowFiles.known(as.toString())) {
      section.problem(
          "as",
          "'%s' does not say what files are made: end it with .parquet, .jsonl, .jsonl.zst or .jsonl.gz"
              .formatted(as));
    }
    return as;
  }

  private static StreamName manifest(Section section, String name) {
    return template(
        section,
        "manifest",
        section.text("manifest").orElse("manifests/" + name + "/{date}/{time}-{n}.json"));
  }

  private static StreamName template(Section section, String key, String text) {
    try {
      return new StreamName(text);
    } catch (Failure failure) {
      section.problem(
          key, "'%s' must have {n} for a number, and may have {date} and {time}".formatted(text));
      return new StreamName("{n}.jsonl");
    }
  }

  private static long roll(Section section) {
    Optional<String> text = section.text("roll");
    Optional<Long> size = text.flatMap(SizeText::parse);
    if (text.isPresent() && size.isEmpty()) {
      section.problem(
          "roll", "roll cannot be '%s'; write a size such as 64MB".formatted(text.get()));
    }
    return size.orElse(ROLL);
  }
}
