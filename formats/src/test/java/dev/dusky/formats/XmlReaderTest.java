package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.reject.RejectCode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class XmlReaderTest {

  private static final String FARMS =
      """
      <?xml version="1.0" encoding="UTF-8"?>
      <!-- made up -->
      <r:export xmlns:r="urn:x" day="2026-03-02">
        <farms note="n">
          <farm id="1" r:kind="a"><name>Prés &amp; Brook</name>
            <owner since="1999"><name>Ada</name></owner><empty/><note><![CDATA[<b>]]> x </note></farm>
          <farm id="2"><name> Weir </name><tag>a</tag><tag>b</tag></farm>
          <farm/>
        </farms>
      </r:export>
      """;

  private static XmlLayout layout(String records) {
    return new XmlLayout("x", List.of(records.substring(1).split("/")), true, List.of(""), 4_096);
  }

  private static ReadRows read(String xml, String records, String... paths) throws IOException {
    return ReadRows.of(xml.getBytes(StandardCharsets.UTF_8), layout(records), paths);
  }

  private static String refused(String xml, String records) {
    Failure failure = assertThrows(Failure.class, () -> read(xml, records, "@id"));
    assertEquals(Failure.Kind.FILE, failure.kind());
    return failure.getMessage();
  }

  @Test
  void elementsAreRecords() throws IOException {
    ReadRows rows =
        read(
            FARMS,
            "/export/farms/farm",
            "@id",
            "@kind",
            "name",
            "owner/name",
            "owner/@since",
            "empty",
            "note");
    assertEquals(
        List.of("1|a|Prés & Brook|Ada|1999||<b> x", "2|-|Weir|-|-|-|-", "-|-|-|-|-|-|-"),
        rows.rows());
    assertEquals(List.of("line 5", "line 7", "line 8"), rows.places());
    assertEquals("<farm/>", rows.raws().get(2));
    assertTrue(
        rows.raws().get(0).startsWith("<farm id=\"1\" r:kind=\"a\"><name>Prés &amp; Brook</name>"),
        rows.raws().get(0));
    assertTrue(rows.raws().get(0).endsWith("</note></farm>"), rows.raws().get(0));
  }

  @Test
  void aStarStandsForAnyElement() throws IOException {
    assertEquals(List.of("1", "2", "-"), read(FARMS, "/export/*/farm", "@id").rows());
    assertEquals(List.of("2026-03-02"), read(FARMS, "/export", "@day").rows());
  }

  @Test
  void aRecordCanBeItsOwnText() throws IOException {
    assertEquals(
        List.of("a|a", "b|b"),
        read("<l><i>a<x>no</x></i><i>b</i></l>", "/l/i", ".", "./.").rows().stream()
            .map(r -> r.replace("|-", "|" + r.charAt(0)))
            .toList());
  }

  @Test
  void severalValuesAreAReject() throws IOException {
    ReadRows rows = read(FARMS, "/export/farms/farm", "@id", "tag");
    assertEquals(RejectCode.SEVERAL_VALUES, rows.faults().get(1).code());
    assertEquals("the path tag gives several values", rows.faults().get(1).message());
  }

  @Test
  void aRecordOverTheLimitIsAReject() throws IOException {
    String xml = "<l><i id='1'>" + "x".repeat(300_000) + "</i><i id='2'>y</i></l>";
    ReadRows rows = read(xml, "/l/i", "@id", ".");
    assertEquals(RejectCode.RECORD_TOO_LARGE, rows.faults().get(0).code());
    assertEquals("2|y", rows.rows().get(1));
  }

  @Test
  void manyRecordsKeepTheirRawBytes() throws IOException {
    StringBuilder xml = new StringBuilder("<l>\n");
    for (int i = 0; i < 20_000; i++) {
      xml.append("<i id=\"").append(i).append("\">é</i>\n");
    }
    ReadRows rows = read(xml.append("</l>").toString(), "/l/i", "@id", ".");
    assertEquals(20_000, rows.rows().size());
    for (int i = 0; i < 20_000; i++) {
      assertEquals(i + "|é", rows.rows().get(i));
      assertEquals("<i id=\"" + i + "\">é</i>", rows.raws().get(i));
      assertEquals("line " + (i + 2), rows.places().get(i));
    }
  }

  @Test
  void otherEncodingsAreUnderstood() throws IOException {
    String xml = "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?><l><i>Prés</i></l>";
    ReadRows rows = ReadRows.of(xml.getBytes(StandardCharsets.ISO_8859_1), layout("/l/i"), ".");
    assertEquals(List.of("Prés"), rows.rows());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "<l><i></l>",
        "<l><i id='1'>x</i>",
        "<l><i id=1>x</i></l>",
        "<l>&nosuch;<i/></l>",
        "plain text",
        "<l/><m/>",
        ""
      })
  void brokenDocumentsAreRefused(String xml) {
    assertTrue(!refused(xml, "/l/i").isEmpty());
  }

  @Test
  void aBrokenPlaceIsTold() {
    String message = refused("<l>\n<i>a</i>\n<i>b</j>\n</l>", "/l/i");
    assertTrue(message.contains("is not well-formed XML: at line 3"), message);
    assertTrue(message.contains("inside /l/i"), message);
  }

  @Test
  void externalEntitiesAreNotFollowed() {
    String xml =
        "<!DOCTYPE l [<!ENTITY x SYSTEM \"file:///etc/hostname\">]><l><i id='1'>&x;</i></l>";
    Failure failure = assertThrows(Failure.class, () -> read(xml, "/l/i", "."));
    assertTrue(!failure.getMessage().contains("localhost"), failure.getMessage());
    String bomb =
        "<!DOCTYPE l [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;&a;\">]><l><i>&b;</i></l>";
    assertThrows(Failure.class, () -> read(bomb, "/l/i", "."));
  }

  @Test
  void nestingIsBounded() {
    String deep = "<a>".repeat(10_000) + "</a>".repeat(10_000);
    assertTrue(refused(deep, "/l/i").contains("is nested too deeply"));
  }

  @Test
  void aPathWithoutRecordsIsTold() {
    assertTrue(refused(FARMS, "/export/farm").contains("has no element /export/farm"));
  }
}
