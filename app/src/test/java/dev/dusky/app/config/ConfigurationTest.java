package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.expect.Trailer;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Afterwards;
import dev.dusky.core.feed.Arrivals;
import dev.dusky.core.feed.DepotFolder;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.RevisedPolicy;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.LongRecords;
import dev.dusky.core.layout.ShortRecords;
import dev.dusky.core.merge.Lookup;
import dev.dusky.core.merge.Merge;
import dev.dusky.core.tally.Tolerance;
import dev.dusky.depots.address.Credentials;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ConfigurationTest {

  private static final String GOOD =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots:
        yard: "file:./intake"
        far:
          at: "s3://wrenfold-intake/daily"
          endpoint: "http://127.0.0.1:9420"
          access-key: env:DUSKY_TEST_UNSET
          secret-key: file:far.secret
      layouts:
        odd:
          kind: delimited
          delimiter: "||"
          quote: none
          escape: "\\\\"
          header: skip
          skip-lines: 2
          comment: "#"
          nulls: ["", "-"]
          nulls-in-quotes: true
          trim: true
          trailing-delimiter: true
          short-records: fill
          long-records: ignore
          encoding: windows-1252
          record-limit: 65536
        csv: { kind: delimited }
      feeds:
        collections:
          depot: yard
          files: "collections/**/*.csv"
          layout: csv
          into: intake.collection
          create: true
          tolerance: 0.5%
          reject-cap: 50
          ignore: remark
          columns:
            docket_no: bigint not null
            farm: { type: varchar(8), from: Farm Code, default: none }
            litres: { type: "decimal(9,1)", decimal-mark: ",", group-mark: "." }
            at: { type: timestamp with time zone, zone: Europe/Amsterdam, pattern: dd/MM/yyyy HH:mm }
            organic: { type: boolean, pattern: J/N, from: 4 }
      """;

  @TempDir Path folder;

  private Configuration read(String text) throws IOException {
    return Configuration.read(Files.writeString(folder.resolve("dusky.yaml"), text));
  }

  private String refused(String text) {
    Failure failure = assertThrows(Failure.class, () -> read(text));
    assertEquals(Failure.Kind.CONFIGURATION, failure.kind());
    return failure.getMessage();
  }

  @Test
  void everythingDeclaredIsTaken() throws IOException {
    Configuration configuration = read(GOOD);
    assertEquals("jdbc:h2:file:" + folder.resolve("warehouse"), configuration.warehouse().url());
    DelimitedLayout odd = (DelimitedLayout) configuration.layout("odd");
    assertEquals("||", odd.delimiter());
    assertEquals(DelimitedLayout.NONE, odd.quote());
    assertEquals('\\', odd.escape());
    assertEquals(HeaderUse.SKIP, odd.header());
    assertEquals(2, odd.skipLines());
    assertEquals(List.of("", "-"), odd.nulls());
    assertTrue(odd.nullsInQuotes() && odd.trim() && odd.trailingDelimiter());
    assertEquals(ShortRecords.FILL, odd.shortRecords());
    assertEquals(LongRecords.IGNORE, odd.longRecords());
    assertEquals(Encoding.WINDOWS_1252, odd.encoding());
    Feed feed = configuration.feed("collections");
    assertEquals("0.5%", feed.tolerance().toString());
    assertEquals(50, feed.rejectCap());
    assertEquals(List.of("remark"), feed.ignore());
    assertTrue(feed.columns().get(0).notNull());
    assertEquals(new FieldSource.Named("Farm Code"), feed.columns().get(1).from());
    assertEquals(Optional.of("none"), feed.columns().get(1).defaultText());
    assertEquals(',', feed.columns().get(2).marks().decimal());
    assertEquals(new FieldSource.At(4), feed.columns().get(4).from());
  }

  private static final String POLICIES =
      """
      warehouse: jdbc:h2:file:./warehouse
      depots: { yard: "file:./in" }
      feeds:
        f:
          depot: yard
          files: "in/*.csv"
          layout: delimited
          into: a.b
          tolerance: { file: 25, load: 1% }
          totals: [litres]
          expect:
            trailer: { begins: "T,", rows: 2, totals: { litres: { start: 9, length: 12 } } }
            sidecar: "{file.path}.json"
          rejects-to: "yard:returned"
          columns: { litres: "decimal(9,1)", remark: text }
      """;

  @Test
  void whatAFeedExpectsIsTaken() throws IOException {
    FeedPolicies policies = read(POLICIES).feed("f").policies();
    assertEquals("25", policies.tolerance().toString());
    assertEquals("1%", policies.loadTolerance().toString());
    assertEquals(new DepotFolder("yard", "returned/"), policies.rejectsTo().orElseThrow());
    Trailer trailer = policies.expectations().trailer().orElseThrow();
    assertEquals("T,", trailer.begins());
    assertEquals(Optional.of(new Trailer.Field(2)), trailer.rows());
    assertEquals(java.util.Map.of("litres", new Trailer.Characters(9, 12)), trailer.totals());
    assertEquals(Optional.of("{file.path}.json"), policies.expectations().sidecar());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "file: 25,            | file: many,          | file cannot be 'many'",
        "totals: [litres]     | totals: [litre]      | totals names 'litre', which is not a column",
        "totals: [litres]     | totals: [remark]     | only integers and decimals have exact sums",
        "totals: [litres]     | totals: []           | the trailer states a sum of litres",
        "rows: 2,             | rows: two,           | rows is a field's position",
        "begins: \"T,\",    | start: \"T,\",     | needs the key begins",
        "yard:returned        | yard:in              | its rejects would be loaded",
        "yard:returned        | barn:in              | is not a folder of a depot",
        "yard:returned        | yard:../x            | is outside the depot",
        "layout: delimited    | layout: json         | have no trailer"
      })
  void whatAFeedExpectsWronglyIsTold(String from, String to, String told) {
    String refused = refused(POLICIES.replace(from, to));
    assertTrue(refused.contains(told), refused);
  }

  @Test
  void toleranceIsNoneUnlessDeclared() throws IOException {
    assertEquals(
        Tolerance.NONE,
        read(GOOD.replace("    tolerance: 0.5%\n", "")).feed("collections").tolerance());
  }

  @Test
  void theStarterIsAGoodConfiguration() throws IOException {
    String starter =
        new String(ConfigurationTest.class.getResourceAsStream("starter.yaml").readAllBytes());
    assertEquals(Set.of(), read(starter).feeds().keySet(), "its example is a comment");
    int example = starter.indexOf("# layouts:");
    String uncommented =
        starter.substring(0, example) + starter.substring(example).replaceAll("(?m)^# ?", "");
    assertEquals(4, read(uncommented).feed("collections").columns().size());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "tolerance: ~ toleranse: ~ line 34: feed collections has no key 'toleranse'; the nearest known one is 'tolerance'",
        "skip-lines: ~ skiplines: ~ line 16: layout odd has no key 'skiplines'; the nearest known one is 'skip-lines'",
        "into: intake.collection ~ into: intake collection ~ line 32: 'intake collection' is not a table name",
        "depot: yard ~ depot: yrd ~ line 29: there is no depot 'yrd'; the nearest is 'yard'",
        "layout: csv ~ layout: cvs ~ line 31: there is no layout 'cvs'; the nearest is 'csv'",
        "bigint ~ bigit ~ 'bigit not null' is not a SQL type; the nearest one is bigint",
        "decimal(9,1) ~ decimal ~ write decimal(precision,scale)",
        "dd/MM/yyyy HH ~ dd/MM/yy HH ~ whose century is ambiguous",
        "Europe/Amsterdam ~ Europe/Amstrdam ~ is not a time zone",
        "header: skip ~ header: maybe ~ header cannot be 'maybe'; it is one of false, skip, true",
        "encoding: windows-1252 ~ encoding: latin-9 ~ encoding cannot be 'latin-9'",
        "quote: none ~ quote: '||' ~ quote must be one visible ASCII character",
        "0.5% ~ lots ~ tolerance cannot be 'lots'",
        "access-key: env:DUSKY_TEST_UNSET ~ access-key: abc123 ~ secrets do not belong in the configuration",
        "jdbc:h2:file:./warehouse ~ jdbc:other:thin ~ is of an unknown kind",
        "jdbc:h2:file:./warehouse ~ { url: 'jdbc:h2:mem:x', connections: 65 } ~ from 1 to 64",
        "jdbc:h2:file:./warehouse ~ jdbc:postgresql://h/d?password=x ~ do not belong in the URL",
        "create: true ~ create: yes ~ create must be true or false",
        "docket_no ~ Docket No ~ is not a column name"
      })
  void whatIsWrongIsToldWithItsLine(String from, String to, String message) {
    assertTrue(GOOD.contains(from));
    String text = GOOD.replaceFirst(java.util.regex.Pattern.quote(from), to);
    String told = refused(text);
    assertTrue(told.contains(message), () -> told + "\ndoes not contain\n" + message);
    assertTrue(told.matches("(?s).*line \\d+: .*"), told);
  }

  @Test
  void severalProblemsAreToldTogetherInTheOrderOfLines() {
    String told =
        refused(
            GOOD.replace("trim: true", "trim: perhaps")
                .replace("depot: yard", "depot: yrd")
                .replace("create: true", "creat: true"));
    assertTrue(told.indexOf("trim must") < told.indexOf("no depot 'yrd'"), told);
    assertTrue(told.indexOf("no depot 'yrd'") < told.indexOf("no key 'creat'"), told);
  }

  @Test
  void twoFeedsOfTheSameNameAreTold() {
    String feeds = GOOD.substring(GOOD.indexOf("  collections:"));
    String told = refused(GOOD + feeds);
    assertTrue(told.contains("'collections' is declared a second time, first on line 28"), told);
  }

  @Test
  void missingKeysAreTold() {
    assertTrue(refused("depots: {}\n").contains("needs the key warehouse"));
    String told = refused(GOOD.replace("    depot: yard\n", ""));
    assertTrue(told.contains("feed collections needs the key depot"), told);
  }

  @Test
  void textThatIsNoYamlIsToldWithItsLine() {
    String told = refused("warehouse: x\nfeeds: [\n");
    assertTrue(told.contains("not well-formed YAML"), told);
  }

  @Test
  void aMissingFileIsToldWithAWayOut() {
    Failure failure =
        assertThrows(Failure.class, () -> Configuration.read(folder.resolve("none.yaml")));
    assertTrue(failure.getMessage().contains("dusky init"));
  }

  private static final String BASE =
      """
      warehouse: jdbc:h2:file:./warehouse
      merges:
        farm:
          from: intake.farm
          into: dairy.farm
          key: farm_code
          surrogate: farm_id
          placeholder: guessed
          existing: history
          history: { at: as_of, until: ended, current: none, versions: [name] }
          deleted: { column: status, values: [closed, gone], then: end }
        docket:
          query: select * from intake.docket
          into: dairy.docket
          key: [docket_no]
          latest-by: [sent_at]
          existing: { overwrite: [litres] }
          missing: { then: mark, into: is_gone, at-most: 2.5% }
          lookups:
            farm_id: { in: dairy.farm, key: farm_code, at: collected_at, unknown: placeholder }
            hauler_id: { in: dairy.farm, key: { farm_code: upper(hauler) }, unknown: { default: -1 } }
          after: [farm]
      """;

  @Test
  void mergesAreTaken() throws IOException {
    Configuration configuration = read(BASE);
    Merge docket = configuration.merges().get("docket");
    Lookup farm = docket.lookups().get(0);
    assertEquals("farm_id", farm.take());
    assertEquals(
        new Lookup.Validity("valid_from", "ended", Optional.empty()),
        farm.validity().orElseThrow());
    assertEquals(new Lookup.Unknown.Placeholder("guessed"), farm.unknown());
    assertEquals(java.util.Map.of("farm_code", "upper(hauler)"), docket.lookups().get(1).keys());
    assertEquals(new Lookup.Unknown.Default("-1"), docket.lookups().get(1).unknown());
    assertEquals(new java.math.BigDecimal("2.5"), docket.missing().orElseThrow().most());
    assertEquals(
        List.of("farm", "docket"),
        configuration.mergesOrAll(List.of()).stream().map(Merge::name).toList());
  }

  @Test
  void whatIsWrongWithMergesIsToldTogether() {
    String circle =
        refused(BASE.replace("surrogate: farm_id", "surrogate: farm_id\n    after: [docket]"));
    assertTrue(circle.contains("in a cycle: docket -> farm -> docket"), circle);
    String all =
        refused(
            BASE.replace("query: select * from intake.docket", "query: x\n    from: intake.docket")
                .replace("then: end", "then: delete")
                .replace("at: as_of, ", "")
                .replace("after: [farm]", "after: [farms]\n    totals: [litres]\n    colums: {}")
                .replace("upper(hauler)", "hauler; drop table x")
                .replace("2.5%", "many")
                .replace("into: is_gone, ", ""));
    for (String part :
        List.of(
            "either 'from' a landing table or by a 'query'",
            "a history keeps old versions: use end or mark, not delete",
            "history needs the key at",
            "comes after 'farms', which is not declared",
            "has no key 'colums'",
            "is more than an expression",
            "at-most cannot be 'many'",
            "then: mark needs into",
            "remove query and newer")) {
      assertTrue(all.contains(part), part + " in " + all);
    }
  }

  @Test
  void aMergeHasAnotherTargetThanItsSourceAndEndsHaveMoments() {
    String said =
        refused(
            """
            warehouse: jdbc:h2:file:./warehouse
            merges:
              a: { from: intake.a, into: intake.a, key: k }
              b:
                from: intake.b
                into: dairy.b
                key: k
                deleted: { column: gone, values: [yes], then: end, into: ended }
            """);
    assertTrue(said.contains("line 3: a merge cannot go into its own source"), said);
    assertTrue(said.contains("then: end writes a time"), said);
  }

  private static final String ARRIVALS =
      """
      warehouse: { url: "jdbc:h2:file:./warehouse", connections: 6 }
      depots: { yard: "file:./intake" }
      watch: { interval: 5 min, at-once: 4, listen: "127.0.0.1:9440", secret: env:HOOK }
      feeds:
        levels:
          depot: yard
          files: "levels/{day:date}/*.csv"
          layout: { kind: delimited }
          into: intake.level
          since: { day: 30 days }
          ready: { quiet: 90 s, marker: "{path}.done" }
          revised: append
          afterwards: { archive: kept }
          drift: { new: extend, widen: true, most: 7 }
          columns: { no: bigint }
        washes:
          depot: yard
          files: "washes/*.json"
          layout: { kind: json }
          into: intake.wash
          afterwards: remove
          drift: capture
          columns: { no: bigint }
      merges:
        level: { from: intake.level, into: dairy.level, key: no, after: [wash, each load] }
        wash: { from: intake.wash, into: dairy.wash, key: no, after: every 10 min }
      """;

  @Test
  void whatAFeedDoesAboutArrivalsIsTaken() throws IOException {
    Configuration configuration = read(ARRIVALS);
    Feed levels = configuration.feed("levels");
    Arrivals arrivals = levels.policies().arrivals();
    assertEquals(
        java.time.LocalDate.of(2026, 2, 8),
        arrivals.since().orElseThrow().first(java.time.Instant.parse("2026-03-10T00:00:00Z")));
    assertEquals(java.time.Duration.ofSeconds(90), arrivals.ready().quiet());
    assertEquals(Optional.of("a/b.csv.done"), arrivals.ready().markerOf("a/b.csv"));
    assertEquals(RevisedPolicy.APPEND, arrivals.revised());
    assertEquals(new Afterwards.Archive("kept/"), arrivals.afterwards());
    assertEquals(
        new DriftPolicy(DriftPolicy.Fields.EXTEND, true, 7),
        levels.policies().drift().orElseThrow());
    Feed washes = configuration.feed("washes");
    assertEquals("json", washes.column("leftovers").orElseThrow().type().toString());
    assertEquals(new Afterwards.Remove(), washes.policies().arrivals().afterwards());
    WatchSettings watch = configuration.watch();
    assertEquals(java.time.Duration.ofMinutes(5), watch.interval());
    assertEquals(4, watch.atOnce());
    assertEquals(
        6, ((dev.dusky.core.warehouse.DatabaseSettings) configuration.warehouse()).connections());
    assertEquals(9440, watch.listen().orElseThrow().getPort());
    assertTrue(watch.merges().get("level").eachLoad());
    assertEquals(Optional.of(java.time.Duration.ofMinutes(10)), watch.merges().get("wash").every());
    assertEquals(List.of("wash"), configuration.merges().get("level").after());
    assertEquals(
        java.time.Duration.ofSeconds(30),
        read(ARRIVALS.replaceFirst("watch: .*\n", "")).watch().interval());
    assertEquals(levels.toString(), read(ARRIVALS).feed("levels").toString(), "a refusal lasts");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "since: { day: 30 days } ~ since: { day: lately } ~ it is a day (2026-03-01) or 30 days",
        "since: { day: 30 days } ~ since: { week: 3 } ~ since needs one of day",
        "{day:date} ~ * ~ since needs a date that the files pattern captures",
        "quiet: 90 s ~ quiet: soon ~ write a span such as 30 s, 5 min or 2 h",
        "{path}.done ~ done ~ marker must be a path with {path} or {folder}",
        "revised: append ~ revised: maybe ~ revised cannot be 'maybe'",
        "archive: kept ~ archive: levels/kept ~ they would be loaded again",
        "archive: kept ~ archive: ../kept ~ is outside the depot",
        "afterwards: remove ~ afterwards: burn ~ it is leave, remove, or { archive: folder/ }",
        "drift: capture ~ drift: guess ~ drift cannot be 'guess'; it is one of capture, extend",
        "new: extend ~ new: capture ~ widen: true needs new: extend",
        "kind: json ~ kind: xml, records: /r ~ drift cannot be determined in XML",
        "every 10 min ~ every now ~ 'every now' is not an interval",
        "interval: 5 min ~ interval: 0 s ~ interval must be positive",
        "127.0.0.1:9440 ~ 9440 ~ write host:port",
        "secret: env:HOOK ~ secret: hush ~ secrets do not belong in the configuration",
        ", secret: env:HOOK ~ `` ~ listen needs secret"
      })
  void whatIsWrongAboutArrivalsIsTold(String from, String to, String message) {
    assertTrue(ARRIVALS.contains(from), from);
    String told = refused(ARRIVALS.replace(from, to));
    assertTrue(told.contains(message), () -> told + "\ndoes not contain\n" + message);
  }

  @Test
  void whatIsWrongWithRepeatsIsTold() {
    String policies = POLICIES;
    int feed = policies.indexOf("    depot: yard\n");
    for (java.util.Map.Entry<String, String> wrong :
        java.util.Map.of(
                "repeats: twice", "repeats cannot be 'twice'",
                "repeats: { key: [nothing] }", "repeats names 'nothing'",
                "repeats: { keep: latest }", "keep: latest and by: [columns] belong together",
                "repeats: { keep: last, scope: load }", "declare a merge with latest-by",
                "repeats: { scope: all }", "scope cannot be 'all'",
                "twins: often", "twins cannot be 'often'")
            .entrySet()) {
      String said =
          refused(
              policies.substring(0, feed)
                  + "    "
                  + wrong.getKey()
                  + "\n"
                  + policies.substring(feed));
      assertTrue(said.contains(wrong.getValue()), said);
    }
  }

  @Test
  void anUnknownFeedIsToldWithTheNearest() throws IOException {
    Configuration configuration = read(GOOD);
    Failure failure =
        assertThrows(Failure.class, () -> configuration.feedsOrAll(List.of("collectoins")));
    assertEquals(Failure.Kind.USAGE, failure.kind());
    assertTrue(failure.getMessage().contains("Did you mean 'collections'?"));
  }

  @Test
  void secretsAreFetchedWhenNeededAndNeverShown() throws IOException {
    Configuration configuration = read(GOOD);
    Failure failure = assertThrows(Failure.class, () -> keys(configuration).accessKey().reveal());
    assertTrue(failure.getMessage().contains("DUSKY_TEST_UNSET is not set"));
    Files.writeString(folder.resolve("far.secret"), "hush\n");
    assertEquals("hush", keys(configuration).secretKey().reveal());
    assertFalse(configuration.toString().contains("hush"));
  }

  private static Credentials.Keys keys(Configuration configuration) {
    return (Credentials.Keys) configuration.depot("far").credentials();
  }

  @Test
  void positionsAreNeededWhereThereAreNoNames() {
    String told = refused(GOOD.replace("layout: csv", "layout: odd"));
    assertTrue(told.contains("has no header names; give a position"), told);
    assertTrue(told.contains("'remark' is not a position"), told);
  }
}
