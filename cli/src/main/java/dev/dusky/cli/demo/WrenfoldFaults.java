package dev.dusky.cli.demo;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/**
 * A bad day at the Wrenfold Dairy Cooperative: one file in each of five layouts, with more than 25
 * kinds of fault among good records, and the corrections that a person would make. Everything is
 * made up.
 */
public final class WrenfoldFaults {

  /** Good records of each file. */
  public static final Map<String, Integer> GOOD =
      Map.of("deliveries", 400, "weighings", 120, "samples", 90, "inspections", 60, "tariffs", 40);

  private static final List<String> DELIVERIES =
      List.of(
          "700001;WF0001;31/02/2026 05:12;812.5;4.1;yes;no such day",
          "700002;WF0002;2026-03-04 05:13;700.0;4.0;no;another form of date",
          "700003;WF0003;04/03/2026 05:14;8l2.5;4.0;no;a letter in a number",
          "700004;WF0001;04/03/2026 05:15;912,5;4.0;no;a comma for a point",
          "700005;WF0002;04/03/2026 05:16;500.25;4.0;no;too many decimals",
          "700006;WF0003;04/03/2026 05:17;600.0;41000;no;too hot for the column",
          "700007;WRENFOLD-WF0003;04/03/2026 05:18;610.0;4.2;no;code too long",
          "700008;n/a;04/03/2026 05:19;620.0;4.2;no;no farm",
          "700009;WF0001;04/03/2026 05:20;45000.0;4.2;no;more than a tanker holds",
          "700010;WF0002;04/03/2026 05:21;630.0;4.2;perhaps;neither yes nor no",
          "700011;WF0009;04/03/2026 05:22;640.0;4.2;no;a farm that is not registered",
          "500000;WF0003;04/03/2026 05:23;650.0;4.2;no;its number is taken",
          "700013;WF0001;04/03/2026 05:24;660.0;-30.0;no;frozen milk",
          "700014;WF0002;04/03/2026 05:25;670.0;4.2;no;the driver waited for an hour at the locked gate",
          "700015;WF0003;04/03/2026 05:26;680.0",
          "700016;WF0001;04/03/2026 05:27;690.0;4.2;no;one;field;too many",
          "700017;WF0002;04/03/2026 05:28;695.0;4.2;no;\"pump failed",
          "700018;WF0003;04/03/2026 05:29;705.0;4.2;no;caf\u00e9 closed",
          "700019;WF0001;04/03/2026 05:30;x15.0;4.2;no;=1+1");

  private static final List<String> WEIGHINGS =
      List.of(
          "T01 20260304 05:10  x2345    4",
          "T02 20260304 05:11  1234540000",
          "T03 20260304 25:12  12346    4",
          "T04 20260230 05:13  12347    4",
          "T05 20260304");

  private static final List<String> SAMPLES =
      List.of(
          "{\"id\":\"S-9001\",\"uuid\":\"not-one\",\"farm\":\"WF0001\",\"fat\":4.1,\"volume\":2}",
          "{\"id\":\"S-9002\",\"farm\":\"WF0002\",\"farm\":\"WF0003\",\"fat\":4.1,\"volume\":2}",
          "{\"id\":\"S-9003\",\"farm\":\"WF0003\",\"fat\":4.1,\"volume\":0}",
          "{\"id\":\"S-9004\",\"farm\":\"WF0001\",\"fat\":\"rich\",\"volume\":2}",
          "{\"farm\":\"WF0002\",\"fat\":4.2,\"volume\":2}",
          "{\"id\":\"S-9006\",\"farm\":\"WF0003\",\"fat\":4.3,\"volume\":2,\"seal\":\"zz\"}",
          "{\"id\":\"S-9007\",\"farm\":\"WF0003\",\"fat\":4.4,\"volume\":}");

  private static final List<String> INSPECTIONS =
      List.of(
          "<inspection no=\"901\"><farm>WF0001</farm><day>2026-02-30</day><score>7</score></inspection>",
          "<inspection no=\"902\"><farm>WF0002</farm><day>2026-03-04</day><score>good</score></inspection>",
          "<inspection no=\"903\"><farm>WF0003</farm><farm>WF0001</farm><day>2026-03-04</day>"
              + "<score>8</score></inspection>");

  private static final List<List<String>> TARIFFS =
      List.of(
          List.of("cream", "1.9.5", "2026-03-01"),
          List.of("", "0.95", "2026-03-01"),
          List.of("whey", "0.12", "1 March"));

  /** The corrections for each feed's exported rejects: what is replaced, and by what. */
  private static final Map<String, Map<String, String>> CORRECTIONS =
      Map.of(
          "deliveries",
          ordered(
              "31/02/2026", "04/03/2026",
              "2026-03-04 05:13", "04/03/2026 05:13",
              "8l2.5", "812.5",
              "912,5", "912.5",
              "500.25", "500.2",
              "41000", "4.1",
              "WRENFOLD-WF0003", "WF0003",
              "45000.0", "4500.0",
              "perhaps", "yes",
              "680.0\n", "680.0;4.2;no;completed\n",
              "one;field;too many", "one field",
              "\"pump failed", "\"pump failed\"",
              "caf\u00e9", "caf\u00c3\u00a9",
              "x15.0", "715.0"),
          "weighings",
          ordered("x2345", "12345", "40000", "    4", "25:12", "05:12", "20260230", "20260228"),
          "samples",
          ordered(
              "\"uuid\":\"not-one\",", "",
              "\"farm\":\"WF0002\",\"farm\"", "\"farm\"",
              "\"volume\":0", "\"volume\":2",
              "\"rich\"", "4.9",
              "\"zz\"", "\"a1\"",
              "\"volume\":}", "\"volume\":2}"),
          "inspections",
          ordered(
              "2026-02-30",
              "2026-02-28",
              "good",
              "9",
              "<farm>WF0001</farm><day>2026-03-04",
              "<day>2026-03-04"),
          "tariffs",
          ordered("1.9.5", "1.95", "1 March", "2026-03-01"));

  private static Map<String, String> ordered(String... pairs) {
    Map<String, String> map = new LinkedHashMap<>();
    for (int i = 0; i < pairs.length; i += 2) {
      map.put(pairs[i], pairs[i + 1]);
    }
    return map;
  }

  /** How many faulty records the files have, by feed. */
  public static Map<String, Integer> faulty() {
    return Map.of(
        "deliveries", DELIVERIES.size(),
        "weighings", WEIGHINGS.size(),
        "samples", SAMPLES.size(),
        "inspections", INSPECTIONS.size(),
        "tariffs", TARIFFS.size());
  }

  /** Writes the five files below a folder. */
  public void write(Path folder) throws IOException {
    write(folder, "deliveries/2026-03-04.csv", deliveries());
    write(folder, "weighings/2026-03-04.txt", weighings());
    write(folder, "samples/2026-03-04.jsonl", samples());
    write(folder, "inspections/2026-03-04.xml", inspections());
    write(folder, "tariffs/2026-03.xlsx", tariffs());
  }

  private static void write(Path folder, String name, byte[] content) throws IOException {
    Path file = folder.resolve(name);
    Files.createDirectories(file.getParent());
    Files.write(file, content);
  }

  private static String format(String form, Object... values) {
    return String.format(Locale.ROOT, form, values);
  }

  /** The good records with a faulty one here and there, the first good one before all. */
  private static List<String> mixed(List<String> good, List<String> faulty) {
    List<String> all = new ArrayList<>();
    int every = good.size() / faulty.size();
    for (int i = 0; i < good.size(); i++) {
      all.add(good.get(i));
      if (i % every == every - 1 && i / every < faulty.size()) {
        all.add(faulty.get(i / every));
      }
    }
    return all;
  }

  private static List<String> good(String feed, java.util.function.IntFunction<String> record) {
    List<String> records = new ArrayList<>();
    for (int i = 0; i < GOOD.get(feed); i++) {
      records.add(record.apply(i));
    }
    return records;
  }

  /** In UTF-8, but for the one record that a till wrote in ISO-8859-1. */
  private static byte[] deliveries() {
    List<String> good =
        good(
            "deliveries",
            i ->
                format(
                    "%d;WF%04d;04/03/2026 %02d:%02d;%d.5;4.%d;%s;",
                    500_000 + i,
                    1 + i % 3,
                    6 + i / 60,
                    i % 60,
                    400 + i,
                    i % 10,
                    i % 6 == 0 ? "yes" : "no"));
    String header = "docket_no;farm_code;collected_at;litres;temperature;organic;remark\n";
    String text = header + String.join("\n", mixed(good, DELIVERIES)) + "\n";
    return text.getBytes(StandardCharsets.ISO_8859_1);
  }

  private static byte[] weighings() {
    List<String> good =
        good(
            "weighings",
            i ->
                format(
                    "T%02d %d %02d:%02d%7d%5d",
                    1 + i % 24, 20260304, 6 + i / 60, i % 60, 14_000 + i * 10, 2 + i % 4));
    List<String> lines = mixed(good, WEIGHINGS);
    return (String.join("\n", lines) + "\n").getBytes(StandardCharsets.US_ASCII);
  }

  private static byte[] samples() {
    List<String> good =
        good(
            "samples",
            i ->
                format(
                    "{\"id\":\"S-%d\",\"farm\":\"WF%04d\",\"fat\":%d.%d,\"volume\":%d}",
                    8_000 + i, 1 + i % 3, 3 + i % 2, i % 10, 1 + i % 4));
    return (String.join("\n", mixed(good, SAMPLES)) + "\n").getBytes(StandardCharsets.UTF_8);
  }

  private static byte[] inspections() {
    List<String> good =
        good(
            "inspections",
            i ->
                format(
                    "<inspection no=\"%d\"><farm>WF%04d</farm><day>2026-03-%02d</day>"
                        + "<score>%d</score></inspection>",
                    100 + i, 1 + i % 3, 1 + i % 4, 5 + i % 5));
    return ("<inspections>\n" + String.join("\n", mixed(good, INSPECTIONS)) + "\n</inspections>\n")
        .getBytes(StandardCharsets.UTF_8);
  }

  /** The smallest workbook there is (ECMA-376): one sheet, its texts in place. */
  private static byte[] tariffs() throws IOException {
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("product", "price", "from"));
    for (int i = 0; i < GOOD.get("tariffs"); i++) {
      rows.add(List.of("milk " + i, format("0.%02d", 40 + i), "2026-03-01"));
    }
    rows.addAll(20, TARIFFS);
    StringBuilder sheet = new StringBuilder();
    for (int r = 0; r < rows.size(); r++) {
      sheet.append("<row r=\"").append(r + 1).append("\">");
      for (int c = 0; c < rows.get(r).size(); c++) {
        sheet.append(
            "<c r=\"%c%d\" t=\"inlineStr\"><is><t>%s</t></is></c>"
                .formatted('A' + c, r + 1, rows.get(r).get(c)));
      }
      sheet.append("</row>");
    }
    String main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    String relations = "http://schemas.openxmlformats.org/package/2006/relationships";
    String office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    String types = "application/vnd.openxmlformats-officedocument.spreadsheetml.";
    Map<String, String> parts = new LinkedHashMap<>();
    parts.put(
        "[Content_Types].xml",
        "<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\">"
            + "<Default Extension=\"rels\""
            + " ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/>"
            + "<Override PartName=\"/xl/workbook.xml\" ContentType=\"%ssheet.main+xml\"/>"
                .formatted(types)
            + "<Override PartName=\"/xl/worksheets/sheet1.xml\" ContentType=\"%sworksheet+xml\"/>"
                .formatted(types)
            + "</Types>");
    parts.put(
        "_rels/.rels",
        "<Relationships xmlns=\"%s\"><Relationship Id=\"r1\" Type=\"%s/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>"
            .formatted(relations, office));
    parts.put(
        "xl/workbook.xml",
        "<workbook xmlns=\"%s\" xmlns:r=\"%s\"><sheets><sheet name=\"tariffs\" sheetId=\"1\" r:id=\"r1\"/></sheets></workbook>"
            .formatted(main, office));
    parts.put(
        "xl/_rels/workbook.xml.rels",
        "<Relationships xmlns=\"%s\"><Relationship Id=\"r1\" Type=\"%s/worksheet\" Target=\"worksheets/sheet1.xml\"/></Relationships>"
            .formatted(relations, office));
    parts.put(
        "xl/worksheets/sheet1.xml",
        "<worksheet xmlns=\"%s\"><sheetData>%s</sheetData></worksheet>".formatted(main, sheet));
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
      for (Map.Entry<String, String> part : parts.entrySet()) {
        ZipEntry entry = new ZipEntry(part.getKey());
        entry.setTime(1_772_600_000_000L);
        zip.putNextEntry(entry);
        zip.write(part.getValue().getBytes(StandardCharsets.UTF_8));
      }
    }
    return bytes.toByteArray();
  }

  /**
   * Corrects a feed's exported rejects in place, as a person would in an editor.
   *
   * @return how many corrections were made
   */
  public int correct(String feed, Path exported) throws IOException {
    String text = Files.readString(exported, StandardCharsets.ISO_8859_1);
    int made = 0;
    for (Map.Entry<String, String> correction : CORRECTIONS.get(feed).entrySet()) {
      if (text.contains(correction.getKey())) {
        text = text.replace(correction.getKey(), correction.getValue());
        made++;
      }
    }
    try (OutputStream out = Files.newOutputStream(exported)) {
      out.write(text.getBytes(StandardCharsets.ISO_8859_1));
    }
    return made;
  }
}
