package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.reject.RejectCode;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.apache.commons.compress.compressors.CompressorException;
import org.apache.commons.compress.compressors.CompressorStreamFactory;
import org.apache.orc.CompressionKind;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * What every reader promises of a file that is cut or damaged in any way: it gives rows, or refuses
 * this one file, and a reader that failed once never seems to end well.
 */
class DamagedFilesTest {

  private static final int ROUNDS = 150;

  /** A sound file of each kind. */
  enum Sound {
    AVRO(columnar(ColumnarLayout.Format.AVRO), "foreign-deflate.avro"),
    AVRO_PLAIN(columnar(ColumnarLayout.Format.AVRO), "foreign-null.avro"),
    PARQUET(columnar(ColumnarLayout.Format.PARQUET), "foreign.parquet"),
    ORC(columnar(ColumnarLayout.Format.ORC), null),
    ORC_DEFLATED(columnar(ColumnarLayout.Format.ORC), null),
    WORKBOOK(
        new WorkbookLayout("w", "", "", HeaderUse.NAMES, true, List.of(""), 1 << 20),
        "foreign.xlsx"),
    XML(XML_LAYOUT, null),
    JSON(JsonLayout.plain("j"), null);

    private final Layout layout;
    private final String resource;

    Sound(Layout layout, String resource) {
      this.layout = layout;
      this.resource = resource;
    }

    byte[] bytes() throws IOException {
      if (this == ORC || this == ORC_DEFLATED) {
        return OrcReaderTest.sample(this == ORC ? CompressionKind.NONE : CompressionKind.ZLIB);
      }
      return resource != null
          ? ReadRows.resource(resource)
          : (this == XML ? xml("ü &amp; <![CDATA[x]]>") : "[{\"a\":\"é\",\"b\":[1,{\"c\":null}]}]")
              .getBytes(StandardCharsets.UTF_8);
    }

    FieldRequest request() throws IOException {
      List<String> names =
          layout instanceof ColumnarLayout
              ? Readers.fields(file(bytes()), layout).stream().map(DeclaredField::path).toList()
              : this == XML ? List.of("a", "@id") : this == JSON ? List.of("$.a") : List.of();
      return request(names);
    }

    private static FieldRequest request(List<String> names) {
      return new FieldRequest(
          names.stream().map(name -> new FieldRequest.Field(name, false)).toList());
    }
  }

  private static final XmlLayout XML_LAYOUT =
      new XmlLayout("x", List.of("f", "r"), true, List.of(""), 4096);

  private static ColumnarLayout columnar(ColumnarLayout.Format format) {
    return new ColumnarLayout("c", format, List.of(), 1 << 20);
  }

  private static String xml(String text) {
    return "<?xml version=\"1.0\" encoding=\"UTF-8\"?><f><r id=\"1\"><a>%s</a></r></f>"
        .formatted(text);
  }

  private static SourceFile file(byte[] bytes) {
    return SourceFile.of("in/a.file", new ByteArrayInputStream(bytes));
  }

  /** Reads to the end; after a failure the reader fails again. */
  private static int read(byte[] bytes, Layout layout, FieldRequest request) throws IOException {
    int records = 0;
    try (RecordReader reader = Readers.open(file(bytes), layout, request)) {
      RecordBatch batch = new RecordBatch(4096);
      FieldSplitter splitter = reader.splitter();
      try {
        while (reader.read(batch)) {
          records += splitter.split(batch).records();
        }
      } catch (Failure failure) {
        for (int i = 0; i < 3; i++) {
          assertThrows(Failure.class, () -> reader.read(batch));
        }
        throw failure;
      }
    }
    return records;
  }

  private static void readOrRefuse(byte[] bytes, Layout layout, FieldRequest request, String how) {
    try {
      read(bytes, layout, request);
    } catch (Failure failure) {
      assertEquals(Failure.Kind.FILE, failure.kind(), how);
      assertTrue(failure.what().contains("in/a.file"), how + ": " + failure.getMessage());
      assertFalse(failure.why().isEmpty() && failure.hint().text().isEmpty(), how);
    } catch (Throwable e) {
      throw new AssertionError(how + ": " + e, e);
    }
  }

  /** The same of a file of that kind. */
  static void readOrRefuse(byte[] bytes, Sound sound) throws IOException {
    readOrRefuse(bytes, sound.layout, sound.request(), sound.name());
  }

  @ParameterizedTest
  @EnumSource(Sound.class)
  void bytesThatAreFlippedCutOrRepeatedNeverThrowAnythingElse(Sound sound) throws IOException {
    byte[] whole = sound.bytes();
    FieldRequest request = sound.request();
    assertTrue(read(whole, sound.layout, request) > 0);
    Random random = new Random(20260302);
    for (int round = 0; round < ROUNDS; round++) {
      byte[] bytes = whole.clone();
      int flips = random.nextInt(4);
      for (int i = 0; i <= flips; i++) {
        bytes[random.nextInt(bytes.length)] = (byte) random.nextInt(256);
      }
      readOrRefuse(bytes, sound.layout, request, sound + " flipped in round " + round);
      int cut = random.nextInt(whole.length);
      readOrRefuse(Arrays.copyOf(whole, cut), sound.layout, request, sound + " cut at byte " + cut);
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"gz", "bzip2", "xz", "zstd", "lz4-framed"})
  void compressedBytesThatAreDamagedRefuseTheFile(String kind)
      throws IOException, CompressorException {
    byte[] text = "a,b\n1,2\n".repeat(2_000).getBytes(StandardCharsets.UTF_8);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (OutputStream packed =
        CompressorStreamFactory.getSingleton().createCompressorOutputStream(kind, out)) {
      packed.write(text);
    }
    byte[] whole = out.toByteArray();
    Random random = new Random(7);
    for (int round = 0; round < ROUNDS; round++) {
      byte[] bytes =
          random.nextBoolean()
              ? whole.clone()
              : Arrays.copyOf(whole, 12 + random.nextInt(whole.length - 12));
      bytes[10 + random.nextInt(bytes.length - 10)] ^= (byte) (1 + random.nextInt(255));
      try (FileContent content =
          new FileContent(
              "in/a.file", new ByteArrayInputStream(bytes), new ContentLimits(1000, 1 << 20))) {
        content.readAllBytes();
      } catch (Failure failure) {
        assertEquals(Failure.Kind.FILE, failure.kind());
      }
    }
  }

  private static Failure refused(byte[] bytes, Layout layout, String... names) {
    Failure failure =
        assertThrows(Failure.class, () -> read(bytes, layout, Sound.request(List.of(names))));
    assertEquals(Failure.Kind.FILE, failure.kind());
    return failure;
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "<f><r><a>text that ends",
        "<f><r><a>&#1;</a></r></f>",
        "<f><r><a>&unknown;</a></r></f>",
        "<f><r><a>a & b</a></r></f>",
        "<f><r><a>x</b></r></f>",
      })
  void brokenXmlIsRefusedWithItsPlace(String xml) {
    Failure failure = refused(xml.getBytes(StandardCharsets.UTF_8), XML_LAYOUT, "a");
    assertTrue(failure.getMessage().contains("line 1"), failure.getMessage());
  }

  @Test
  void aLatinByteInXmlOfUtf8IsRefusedWithItsPlace() {
    Failure failure =
        refused(xml("caf\u00e9").getBytes(StandardCharsets.ISO_8859_1), XML_LAYOUT, "a");
    assertTrue(failure.getMessage().contains("line 1"), failure.getMessage());
  }

  @Test
  void aStartTagLongerThanTheRecordLimitIsARejectOfThatRecord() throws IOException {
    String tag = "<r id=\"" + "x".repeat(300_000) + "\"><a>1</a></r>";
    ReadRows rows =
        ReadRows.of(
            ("<f>" + tag + "<r id=\"2\"><a>2</a></r></f>").getBytes(StandardCharsets.UTF_8),
            XML_LAYOUT,
            "@id",
            "a");
    assertEquals(RejectCode.RECORD_TOO_LARGE, rows.faults().get(0).code());
    assertEquals("2|2", rows.rows().get(1));
  }

  @Test
  void manyAttributesAreRefusedAtOnce() {
    StringBuilder tag = new StringBuilder("<f><r");
    for (int i = 0; i < 200_000; i++) {
      tag.append(" a").append(i).append("=\"\"");
    }
    Failure failure =
        refused(
            tag.append("/></f>").toString().getBytes(StandardCharsets.UTF_8), XML_LAYOUT, "@a1");
    assertTrue(failure.getMessage().contains("attributes"), failure.getMessage());
  }

  @Test
  void aSizeInAnAvroFileIsHeldAgainstTheFile() throws IOException {
    byte[] bytes = ReadRows.resource("foreign-null.avro");
    int sync = bytes.length - 16;
    int block = -1;
    for (int i = 0; i < sync && block < 0; i++) { // the header ends with the first sync mark
      if (Arrays.equals(bytes, i, i + 16, bytes, sync, sync + 16)) {
        block = i + 16;
      }
    }
    byte[] lying = Arrays.copyOf(bytes, bytes.length);
    int rows = lying[block] < 0 ? 2 : 1;
    Arrays.fill(lying, block + rows, block + rows + 4, (byte) 0xfe); // its size, about 1.7 GB
    lying[block + rows + 4] = 0x0c;
    Failure failure = refused(lying, Sound.AVRO_PLAIN.layout, "id");
    assertTrue(failure.getMessage().contains("is cut or damaged"), failure.getMessage());
    assertTrue(failure.getMessage().contains("bytes are left"), failure.getMessage());
  }

  @Test
  void aSingleByteOfJsonIsRefused() {
    refused(new byte[] {(byte) 0xc5}, JsonLayout.plain("j"), "$.a");
  }

  @Test
  void aStreamOfAStripeThatEndsTooEarlyIsNotReadOn() throws IOException {
    byte[] bytes = ReadRows.resource("FormatFuzzTestInputs/orc/a-stream-that-ends-early");
    refused(bytes, Sound.ORC.layout, "tags");
  }
}
