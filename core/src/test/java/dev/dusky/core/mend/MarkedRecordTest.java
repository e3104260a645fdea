package dev.dusky.core.mend;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.reject.RejectState;
import dev.dusky.core.reject.StoredReject;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class MarkedRecordTest {

  private static Feed feed(Layout layout, FeedColumn... columns) {
    return new Feed(
        "f",
        "yard",
        FilePattern.of("*"),
        layout,
        new TableName("a", "b"),
        false,
        List.of(columns),
        Optional.empty(),
        List.of(),
        FeedPolicies.DEFAULT);
  }

  private static FeedColumn column(String name) {
    return FeedColumn.plain(name, SqlType.parse("integer").orElseThrow(), false);
  }

  private static StoredReject reject(byte[] preamble, byte[] raw, Problem... problems) {
    return new StoredReject(
        1,
        "f",
        1,
        new StagedFile("a.csv", 1, "m", Instant.EPOCH),
        "posted",
        1,
        preamble,
        new Reject(1, 2, 0, "", raw, false, 0, new byte[0], List.of(problems)),
        Optional.empty(),
        Instant.EPOCH,
        RejectState.OPEN,
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  private static Problem problem(RejectCode code, String column, String value, String message) {
    return new Problem(code, column, value, message);
  }

  private static List<String> marked(Feed feed, StoredReject reject) {
    MarkedRecord record = MarkedRecord.of(feed, reject);
    return record.marks().stream()
        .map(mark -> record.text().substring(mark.from(), mark.to()))
        .toList();
  }

  private static byte[] bytes(String text, Charset charset) {
    return text.getBytes(charset);
  }

  @Test
  void eachProblemIsMarkedInItsField() {
    Feed feed = feed(DelimitedLayout.plain("l"), column("a"), column("b"));
    StoredReject reject =
        reject(
            bytes("b,x,a\n", StandardCharsets.UTF_8),
            bytes("ö7,ö7,\"7,5\"", StandardCharsets.UTF_8),
            problem(RejectCode.BAD_NUMBER, "a", "7,5", "m"),
            problem(RejectCode.BAD_NUMBER, "b", "ö7", "m"));
    // The field x is unknown to the feed: the columns are found by the text of their values.
    assertEquals(List.of("7,5", "ö7"), marked(feed, reject));
    Feed ignoring =
        new Feed(
            "f",
            "yard",
            feed.files(),
            feed.layout(),
            feed.into(),
            false,
            feed.columns(),
            Optional.empty(),
            List.of("x"),
            FeedPolicies.DEFAULT);
    MarkedRecord record = MarkedRecord.of(ignoring, reject);
    assertEquals(7, record.marks().get(0).from());
    assertEquals(0, record.marks().get(1).from());
  }

  @Test
  void otherEncodingsAreShownAsText() {
    Feed feed = feed(DelimitedLayout.plain("l"), column("a"), column("b"));
    StoredReject reject =
        reject(
            bytes("\ufeffa,b\n", StandardCharsets.UTF_16LE),
            bytes("ä,€", StandardCharsets.UTF_16LE),
            problem(RejectCode.BAD_NUMBER, "b", "€", "m"));
    assertEquals("ä,€", MarkedRecord.of(feed, reject).text());
    assertEquals(List.of("€"), marked(feed, reject));
  }

  @Test
  void aFaultOfTheRecordIsMarkedWhereItsMessageSaysSo() {
    Feed csv = feed(DelimitedLayout.plain("l"), column("a"), column("b"));
    StoredReject quote =
        reject(
            bytes("a,b\n", StandardCharsets.UTF_8),
            bytes("1,\"open", StandardCharsets.UTF_8),
            problem(
                RejectCode.BROKEN_QUOTE,
                "",
                "",
                "the quote that opens field 2 at byte 2 of the record is never closed"));
    assertEquals(List.of("\"open"), marked(csv, quote));
    Feed json = feed(JsonLayout.plain("j"), column("a").withFrom(new FieldSource.Named("$.a")));
    StoredReject broken =
        reject(
            new byte[0],
            bytes("{\"a\":}", StandardCharsets.UTF_8),
            problem(
                RejectCode.BAD_JSON, "", "", "the record is not JSON: at byte 6 of it, no value"));
    assertEquals(List.of("}"), marked(json, broken));
    StoredReject few =
        reject(
            bytes("a,b\n", StandardCharsets.UTF_8),
            bytes("1", StandardCharsets.UTF_8),
            problem(RejectCode.TOO_FEW_FIELDS, "", "", "the record has 1 fields, expected 2"));
    assertEquals(List.of("1"), marked(csv, few));
  }
}
