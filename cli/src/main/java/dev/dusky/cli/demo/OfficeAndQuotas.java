package dev.dusky.cli.demo;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.regex.Matcher;

/** Rows come from another database, and a table is replaced by the extract of a day. */
final class OfficeAndQuotas {

  private static final String SOURCES =
      """

      sources:
        contracts:
          at: "jdbc:h2:file:./office;DATABASE_TO_LOWER=TRUE"
          user: dusky
          query: select contract_no, farm_code, litres_a_day, changed_at from contract
          newer: changed_at
      """;

  private final DemoFolder folder;
  private final Narration story;

  OfficeAndQuotas(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    prepare();
    story.step("The office keeps contracts in a separate database. What is new there is staged");
    story.say("as Parquet, with a manifest, and the ledger has how far it is.");
    story.dusky("stage", "yard", "source:contracts");
    story.dusky("load", "contracts");
    story.say(
        "Two contracts change. The next run takes what is newer, and the last minutes again.");
    office(
        "update contract set litres_a_day = litres_a_day + 40,"
            + " changed_at = timestamp '2026-03-03 09:10:00' where contract_no in (12, 30)");
    story.dusky("stage", "yard", "source:contracts");
    story.dusky("load", "contracts");
    story.step("Quotas come as a whole table each day: a load replaces the table.");
    quotas("2026-03-02", 40, 700);
    story.dusky("load", "quotas");
    quotas("2026-03-03", 42, 720);
    story.dusky("load", "quotas");
    story.say("The next extract breaks off. The table would shrink too much, and stays.");
    quotas("2026-03-04", 9, 730);
    story.leaving("load", "quotas");
    story.dusky("sql", "select count(*) as farms, sum(litres) as litres from arrivals.quota");
  }

  private void prepare() throws IOException {
    try (InputStream in = OfficeAndQuotas.class.getResourceAsStream("office.yaml")) {
      String feeds = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      String yaml = Files.readString(folder.configuration());
      Files.writeString(
          folder.configuration(),
          yaml.replaceFirst("(?m)^feeds:\\n", Matcher.quoteReplacement("feeds:\n" + feeds + "\n"))
              + SOURCES);
    }
    Files.writeString(folder.root().resolve("office.yaml"), "warehouse: jdbc:h2:file:./office\n");
    office(
        "create table contract (contract_no integer primary key, farm_code varchar(8),"
            + " litres_a_day decimal(9,1), changed_at timestamp(6))");
    StringBuilder rows = new StringBuilder("insert into contract values ");
    for (int i = 1; i <= 40; i++) {
      rows.append(i == 1 ? "" : ", ")
          .append(
              "(%d, 'WF%04d', %d.5, timestamp '2026-03-02 08:%02d:00')"
                  .formatted(i, i * 7, 500 + i * 13 % 300, i));
    }
    office(rows.toString());
  }

  /** What happens in the office, which is not shown. */
  private void office(String sql) {
    story.unseen("sql", "--config", "office.yaml", sql);
  }

  private void quotas(String day, int farms, int litres) throws IOException {
    StringBuilder text = new StringBuilder("farm_code,litres\n");
    for (int i = 1; i <= farms; i++) {
      text.append("WF%04d,%d\n".formatted(i * 7, litres + i * 11 % 200));
    }
    Path place = folder.root().resolve("quotas-" + day);
    Files.createDirectories(place);
    Files.writeString(place.resolve("quotas.csv"), text.toString());
    story.unseen("stage", "yard", "quotas-" + day, "--under", "quotas/" + day);
  }
}
