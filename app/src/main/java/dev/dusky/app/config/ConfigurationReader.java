package dev.dusky.app.config;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.expect.Timetable;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.source.Source;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.warehouse.CatalogSettings;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.EngineSettings;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.core.warehouse.WarehouseSettings;
import dev.dusky.core.warehouse.Warehouses;
import dev.dusky.depots.address.DepotAddress;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads the sections of a configuration. */
final class ConfigurationReader {

  /** The form of names. */
  static final String NAME = "[A-Za-z][A-Za-z0-9_-]{0,62}";

  private final Path file;
  private final String text;
  private final ConfigProblems problems;
  private final Secrets secrets;
  private final Map<String, Integer> lines = new HashMap<>();
  private final Map<String, Timetable> timetables = new LinkedHashMap<>();

  private boolean lake;

  ConfigurationReader(
      Path file, String text, ConfigProblems problems, Map<String, String> environment) {
    this.file = file;
    this.text = text;
    this.problems = problems;
    this.secrets = new Secrets(file.toAbsolutePath().getParent(), environment);
  }

  Configuration read(Node root) {
    Section top = new Section("the configuration", root, problems);
    WarehouseSettings warehouse = warehouse(top);
    lake = warehouse instanceof LakeSettings;
    Map<String, DepotAddress> depots = new LinkedHashMap<>();
    DepotReader depotReader = new DepotReader(problems, secrets, file.toAbsolutePath().getParent());
    top.children("depots")
        .forEach(
            (name, node) ->
                depots.put(name, depotReader.read(checkName("depot", name, node), node)));
    checkStore(top, warehouse, depots.values());
    Map<String, Layout> layouts = new LinkedHashMap<>();
    top.children("layouts")
        .forEach(
            (name, node) ->
                layouts.put(
                    checkName("layout", name, node),
                    LayoutReader.read(name, new Section("layout " + name, node, problems))));
    ContentLimits limits = limits(top);
    Map<String, Feed> feeds = new LinkedHashMap<>();
    top.children("feeds")
        .forEach((name, node) -> feeds.put(name, feed(name, node, depots, layouts, limits)));
    MergeTimings timings = new MergeTimings();
    Map<String, Merge> merges = new MergeReader(problems, timings).read(top.children("merges"));
    if (warehouse instanceof LakeSettings on && on.engine().isEmpty() && !merges.isEmpty()) {
      top.problem("merges", "merges of tables in object storage need an engine under warehouse");
    }
    Map<String, Source> sources =
        new SourcesReader(problems, secrets, file.toAbsolutePath().getParent())
            .read(top.children("sources"));
    WatchSettings watch = WatchSettings.read(top, secrets, depotReader, timings.all());
    Set<String> named = new HashSet<>(feeds.keySet());
    named.addAll(merges.keySet());
    Optional<AlertSettings> alerts = new AlertsReader(problems, secrets, named).read(top);
    Optional<Prices> prices = Prices.read(top);
    top.done();
    return new Configuration(
        file,
        text,
        warehouse,
        depots,
        layouts,
        feeds,
        timetables,
        merges,
        sources,
        watch,
        alerts,
        prices,
        lines);
  }

  private String checkName(String kind, String name, Node node) {
    if (!name.matches(NAME)) {
      problems.add(
          node.line(),
          "'%s' is not a name for a %s: use letters, digits, hyphens and underscores"
              .formatted(name, kind));
    }
    return name;
  }

  private WarehouseSettings warehouse(Section top) {
    Optional<Node> node = top.node("warehouse");
    if (node.isEmpty()) {
      problems.add(top.line(), "the configuration needs the key warehouse");
      return new DatabaseSettings("", Optional.empty(), Optional.empty());
    }
    if (node.get() instanceof Node.Scalar) {
      return new DatabaseSettings(
          url(top, "warehouse", top.text("warehouse").orElse("")),
          Optional.empty(),
          Optional.empty());
    }
    Section section = top.section("warehouse", node.get());
    Optional<String> tables = section.text("tables");
    String database = tables.isPresent() ? "ledger" : "url";
    DatabaseSettings address =
        new DatabaseSettings(
            url(section, database, section.required(database)),
            section.text("user"),
            secrets.get(section, "password"),
            section.number("connections", 1, 64, DatabaseSettings.DEFAULT_CONNECTIONS));
    Optional<EngineSettings> engine =
        section.node("engine").map(at -> new EngineReader(file).read(section, at));
    if (engine.isPresent() && tables.isEmpty()) {
      section.problem("engine", "an engine is for tables in object storage: there are none here");
    }
    Optional<CatalogSettings> catalog =
        section.node("catalog").map(at -> new CatalogReader(secrets).read(section, at));
    if (catalog.isPresent() && tables.isEmpty()) {
      section.problem("catalog", "a catalog is for tables in object storage: there are none here");
    }
    section.done();
    return tables.isPresent()
        ? new LakeSettings(
            url(section, "tables", tables.get()), Optional.empty(), address, engine, catalog)
        : address;
  }

  /** Tables in an object store are reached through a depot, which has the credentials. */
  private static void checkStore(
      Section top, WarehouseSettings warehouse, Collection<DepotAddress> depots) {
    if (warehouse instanceof LakeSettings lake
        && lake.place().startsWith("s3:")
        && depots.stream().noneMatch(depot -> depot.holds(lake.place()))) {
      top.problem(
          "warehouse",
          "tables at %s are below no depot: declare one at that bucket, with its credentials"
              .formatted(lake.place()));
    }
  }

  /** The URL with a relative H2 file made absolute; one with a password in it is a problem. */
  private String url(Section section, String key, String url) {
    if (tellsSecrets(url)) {
      section.problem(key, "user and password do not belong in the URL; give them as keys");
    }
    Optional<String> resolved = Warehouses.resolve(url, file.toAbsolutePath().getParent());
    if (resolved.isEmpty() && !url.isEmpty()) {
      section.problem(key, "'%s' is of an unknown kind: use %s".formatted(url, Warehouses.forms()));
    }
    return resolved.orElse(url);
  }

  /** Whether a JDBC URL has user or password in it. */
  static boolean tellsSecrets(String url) {
    return url.toLowerCase(java.util.Locale.ROOT).matches(".*[?&;](password|user)=.*");
  }

  private ContentLimits limits(Section top) {
    Optional<Node> node = top.node("limits");
    if (node.isEmpty()) {
      return ContentLimits.DEFAULT;
    }
    Section section = top.section("limits", node.get());
    ContentLimits limits =
        new ContentLimits(
            section.number("ratio", 2, 1_000_000, ContentLimits.DEFAULT.ratio()),
            ContentLimits.DEFAULT.freeBytes());
    section.done();
    return limits;
  }

  private Feed feed(
      String name,
      Node node,
      Map<String, DepotAddress> depots,
      Map<String, Layout> layouts,
      ContentLimits limits) {
    checkName("feed", name, node);
    Section section = new Section("feed " + name, node, problems);
    String depot = section.required("depot");
    if (!depot.isEmpty() && !depots.containsKey(depot)) {
      section.problem("depot", unknown("depot", depot, depots));
    }
    Layout layout = layout(name, section, layouts);
    String into = section.required("into");
    Optional<TableName> table = TableName.parse(into);
    if (table.isEmpty() && !into.isEmpty()) {
      section.problem("into", "'" + into + "' is not a table name: write schema.table");
    }
    Feed declared =
        new Feed(
            name,
            depot,
            files(section),
            layout,
            table.orElse(new TableName("public", "none")),
            section.flag("create", false),
            columns(section),
            ColumnReader.formula(section, "where"),
            section.texts("ignore").orElse(List.of()),
            new PolicyReader(section, problems, depots).read(limits));
    Feed feed = withLeftovers(section, declared);
    if (depots.containsKey(depot)
        && !depots.get(depot).writable()
        && !(feed.policies().arrivals().afterwards() instanceof Afterwards.Leave)) {
      section.problem(
          "afterwards",
          "depot %s is only read: its files can be neither moved nor removed".formatted(depot));
    }
    checkPositions(section, feed);
    section
        .node("columns")
        .map(columns -> section.section("columns", columns))
        .ifPresent(
            columns ->
                feed.columns()
                    .forEach(c -> lines.put(name + "." + c.name(), columns.line(c.name()))));
    new FeedCheck(section, feed, problems).run();
    if (lake) {
      new LakeCheck(section, feed).run();
    } else {
      LakeCheck.none(section, feed);
    }
    section
        .node("expect")
        .filter(Node.Fields.class::isInstance)
        .map(expect -> section.section("expect", expect))
        .ifPresent(expect -> expectations(feed, expect));
    section.done();
    return feed;
  }

  /** What is expected of files as they arrive; what is expected in them is the feed's policy. */
  private void expectations(Feed feed, Section expect) {
    expect
        .node("arrivals")
        .map(node -> expect.section("arrivals", node))
        .ifPresent(
            arrivals ->
                timetables.put(feed.name(), new TimetableReader(arrivals, feed.files()).read()));
  }

  /** A feed that captures has a column for the leftovers. */
  private static Feed withLeftovers(Section section, Feed feed) {
    Optional<DriftPolicy> drift = feed.policies().drift();
    if (drift.isPresent() && feed.layout() instanceof XmlLayout) {
      section.problem(
          "drift", "drift cannot be determined in XML: what is not asked for is skipped");
    }
    if (drift.isEmpty() || !drift.get().captures()) {
      return feed;
    }
    if (feed.column(DriftPolicy.LEFTOVERS).isPresent()) {
      section.problem("drift", "a feed that captures cannot declare a column named leftovers");
    }
    List<FeedColumn> columns = new ArrayList<>(feed.columns());
    columns.add(
        FeedColumn.plain(DriftPolicy.LEFTOVERS, SqlType.of(TypeKind.JSON), false)
            .withFrom(new FieldSource.Leftovers()));
    return feed.withColumns(columns);
  }

  private static String unknown(String kind, String name, Map<String, ?> all) {
    return "there is no %s '%s'%s"
        .formatted(
            kind,
            name,
            NearestName.of(name, all.keySet())
                .map(near -> "; the nearest is '" + near + "'")
                .orElse(all.isEmpty() ? "" : "; declared are " + String.join(", ", all.keySet())));
  }

  private Layout layout(String feed, Section section, Map<String, Layout> layouts) {
    Optional<Node> node = section.node("layout");
    if (node.isPresent() && node.get() instanceof Node.Fields) {
      return LayoutReader.read(feed, section.section("layout of feed " + feed, node.get()));
    }
    String name = section.required("layout");
    Optional<Layout> layout =
        Optional.ofNullable(layouts.get(name)).or(() -> LayoutReader.plain(name));
    if (!name.isEmpty() && layout.isEmpty()) {
      section.problem("layout", unknown("layout", name, layouts));
    }
    return layout.orElse(DelimitedLayout.plain(name));
  }

  private static FilePattern files(Section section) {
    try {
      return FilePattern.of(section.required("files"));
    } catch (IllegalArgumentException e) {
      section.problem("files", e.getMessage());
      return FilePattern.of("none");
    }
  }

  private List<FeedColumn> columns(Section section) {
    Optional<Node> node = section.node("columns");
    if (node.isEmpty()) {
      problems.add(section.line(), "the feed needs the key columns");
      return List.of();
    }
    Section columns = section.section("columns", node.get());
    List<FeedColumn> result = new ArrayList<>();
    columns.all().forEach((name, n) -> result.add(ColumnReader.read(name, n, columns, problems)));
    if (result.isEmpty()) {
      section.problem("columns", "columns must name at least one column");
    }
    return result;
  }

  /** Without a header's names, fields can only be determined by their positions. */
  private static void checkPositions(Section section, Feed feed) {
    if (feed.layout().naming() != FieldNaming.POSITION) {
      return;
    }
    for (FeedColumn column : feed.columns()) {
      if (column.from() instanceof FieldSource.Named named) {
        section.problem(
            "columns",
            "column %s comes from '%s', but layout %s has no header names; give a position"
                .formatted(column.name(), named.name(), feed.layout().name()));
      }
    }
    for (String ignored : feed.ignore()) {
      if (!ignored.matches("[1-9]\\d{0,4}")) {
        section.problem(
            "ignore",
            "'%s' is not a position, and layout %s has no header names"
                .formatted(ignored, feed.layout().name()));
      }
    }
  }
}
