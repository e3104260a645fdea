package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.EmptyRows;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class RecordReparserTest {

  private static List<String> texts(RecordBatch batch, int record, FieldText text) {
    List<String> texts = new ArrayList<>();
    for (int f = 0; f < batch.fieldCount(record); f++) {
      text.locate(batch, batch.firstField(record) + f);
      texts.add(text.toString());
    }
    return texts;
  }

  @Test
  void eachRecordOfADelimitedFileReadsAlikeByItself() throws IOException {
    DelimitedLayout layout = DelimitedLayout.plain("l");
    String file = "no,note\n1,\"two\nlines, one record\"\n2,\"\"\"\"\n3,\n";
    DelimitedReader reader =
        new DelimitedReader(
            "f", new ByteArrayInputStream(file.getBytes(StandardCharsets.UTF_16)), layout);
    RecordBatch batch = new RecordBatch(1 << 10);
    reader.read(batch);
    RecordReparser again =
        new RecordReparser(layout, reader.preamble(), FieldRequest.of(List.of("no", "note")));
    FieldText text = new FieldText(layout);
    for (int r = 0; r < 3; r++) {
      RecordBatch alone = again.read(batch.raw(r), new byte[0]);
      assertEquals(1, alone.records());
      assertEquals(texts(batch, r, text), texts(alone, 0, text));
    }
    assertEquals(List.of("no", "note"), again.names());
  }

  @Test
  void rowsOfOneJsonRecordAndWhatIsCarriedOntoItAreFoundAgain() throws IOException {
    JsonLayout layout =
        new JsonLayout(
            "j",
            JsonForm.DOCUMENT,
            Optional.of("$.samples[*]"),
            Optional.of("$.results[*]"),
            EmptyRows.NONE,
            List.of("$.lab"),
            Encoding.UTF_8,
            List.of(),
            1 << 20);
    FieldRequest request = FieldRequest.of(List.of("$.lab", "$.id", "$.results[*].v"));
    String file =
        "{\"lab\": \"L\\u00e4b\", \"samples\": [{\"id\": 7,\n \"results\": [{\"v\":1}, {\"v\":2}]}]}";
    JsonReader reader =
        new JsonReader(
            "f", new ByteArrayInputStream(file.getBytes(StandardCharsets.UTF_8)), layout, request);
    RecordBatch batch = new RecordBatch(1 << 10);
    reader.read(batch);
    RecordBatch rows = reader.splitter().split(batch);
    assertEquals(0, rows.piece(0));
    assertEquals(1, rows.piece(1));
    assertArrayEquals("[\"L\\u00e4b\"]".getBytes(StandardCharsets.UTF_8), rows.context(1));
    RecordReparser again = new RecordReparser(layout, reader.preamble(), request);
    RecordBatch alone = again.read(rows.raw(1), rows.context(1));
    FieldText text = new FieldText(layout);
    assertEquals(2, alone.records());
    assertEquals(List.of("Läb", "7", "2"), texts(alone, 1, text));
  }

  @Test
  void whatIsBrokenIsAFault() {
    JsonLayout json = JsonLayout.plain("j");
    RecordReparser again = new RecordReparser(json, new byte[0], FieldRequest.of(List.of("$.a")));
    assertNotNull(again.read("{\"a\":".getBytes(StandardCharsets.UTF_8), new byte[0]).fault(0));
    assertNull(again.read("{\"a\":\n1}".getBytes(StandardCharsets.UTF_8), new byte[0]).fault(0));
    assertNotNull(again.read(new byte[0], new byte[0]).fault(0));
  }
}
