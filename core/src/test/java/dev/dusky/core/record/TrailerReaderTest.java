package dev.dusky.core.record;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.expect.ControlFigures;
import dev.dusky.core.expect.Trailer;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.DelimitedLayout;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TrailerReaderTest {

  private static final Trailer FIELDS =
      new Trailer("TRL", Optional.of(new Trailer.Field(2)), Map.of("litres", new Trailer.Field(3)));

  private static int records;

  private static ControlFigures read(String text, Trailer trailer) throws IOException {
    DelimitedLayout layout = DelimitedLayout.plain("l");
    DelimitedReader reader =
        new DelimitedReader(
            "f.csv", new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), layout);
    TrailerReader trimmed = new TrailerReader("f.csv", reader, layout, trailer);
    RecordBatch batch = new RecordBatch(1 << 10);
    records = 0;
    while (trimmed.read(batch)) {
      records += batch.records();
    }
    return trimmed.figures().orElseThrow();
  }

  @Test
  void theTrailerIsTakenOffAndRead() throws IOException {
    ControlFigures figures = read("no,litres\n1,2.5\n2,3\nTRL,2,5.5\n\n", FIELDS);
    assertEquals(2, records);
    assertEquals(Optional.of(2L), figures.rows());
    assertEquals(Map.of("litres", new BigDecimal("5.5")), figures.totals());
  }

  @Test
  void itMayBeFarAwayAndInFixedPlaces() throws IOException {
    StringBuilder text = new StringBuilder("no,litres\n");
    for (int i = 0; i < 5000; i++) {
      text.append(i).append(",1\n");
    }
    Trailer places = new Trailer("END", Optional.of(new Trailer.Characters(5, 6)), Map.of());
    assertEquals(Optional.of(5000L), read(text + "END 005000\n", places).rows());
    assertEquals(5000, records);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "no,litres\\n1,2\\n                    | has no trailer",
        "no,litres\\nTRL,1,2\\n1,2\\n           | in the wrong place",
        "no,litres\\n1,2\\nTRL,one,2\\n         | 'one' is not a number for rows",
        "no,litres\\n1,2\\nTRL,1.5,2\\n         | '1.5' is not a number for rows",
        "no,litres\\n1,2\\nTRL,1\\n             | '' is not a number for litres",
        "no,litres\\n1,2\\nTRL,1,2\\nTRL,1,2\\n  | in the wrong place"
      })
  void whatIsWrongWithItIsTold(String text, String told) {
    Failure failure = assertThrows(Failure.class, () -> read(text.replace("\\n", "\n"), FIELDS));
    assertEquals(Failure.Kind.FILE, failure.kind());
    assertTrue(failure.getMessage().contains(told), failure.getMessage());
  }
}
