package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.record.DeclaredField;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.reject.RejectCode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.function.BiConsumer;
import org.apache.parquet.column.ParquetProperties.WriterVersion;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.SimpleGroupFactory;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.example.ExampleParquetWriter;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.MessageTypeParser;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class ParquetReaderTest {

  private static final ColumnarLayout PARQUET =
      new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20);

  @TempDir Path folder;

  private byte[] written(
      String schema, int rows, CompressionCodecName codec, BiConsumer<Group, Integer> fill)
      throws IOException {
    MessageType type = MessageTypeParser.parseMessageType(schema);
    Path file = folder.resolve("made-" + System.nanoTime() + ".parquet");
    try (ParquetWriter<Group> writer =
        ExampleParquetWriter.builder(new LocalOutputFile(file))
            .withConf(new PlainParquetConfiguration())
            .withType(type)
            .withWriterVersion(WriterVersion.PARQUET_2_0)
            .withCompressionCodec(codec)
            .withCodecFactory(new TestCodecs())
            .withRowGroupSize(20_000L)
            .withPageSize(2_000)
            .build()) {
      SimpleGroupFactory groups = new SimpleGroupFactory(type);
      for (int i = 0; i < rows; i++) {
        Group group = groups.newGroup();
        fill.accept(group, i);
        writer.write(group);
      }
    }
    return Files.readAllBytes(file);
  }

  private byte[] written(String schema, int rows, BiConsumer<Group, Integer> fill)
      throws IOException {
    return written(schema, rows, CompressionCodecName.UNCOMPRESSED, fill);
  }

  @Test
  void logicalTypesBecomeSqlTypes() throws IOException {
    byte[] file =
        written(
            """
            message all {
              required boolean ok;
              required int32 tiny (INTEGER(8,true));
              required int32 whole;
              required int32 unsigned (INTEGER(32,false));
              required int64 large;
              required int64 huge (INTEGER(64,false));
              required float single;
              required double twice;
              required int32 small_money (DECIMAL(9,2));
              required int64 money (DECIMAL(18,4));
              required fixed_len_byte_array(16) wide_money (DECIMAL(38,6));
              required binary loose_money (DECIMAL(30,3));
              required int32 day (DATE);
              required int32 tod (TIME(MILLIS,true));
              required int64 tod_micros (TIME(MICROS,false));
              required int64 at (TIMESTAMP(MILLIS,false));
              required int64 at_utc (TIMESTAMP(MICROS,true));
              required int64 at_nanos (TIMESTAMP(NANOS,false));
              required int96 old_at;
              required binary name (STRING);
              required binary kind (ENUM);
              required binary doc (JSON);
              required fixed_len_byte_array(16) id (UUID);
              required binary bytes;
            }""",
            1,
            (g, i) -> {
              g.append("ok", true).append("tiny", -5).append("whole", 7).append("unsigned", -1);
              g.append("large", -9L).append("huge", -1L).append("single", 0.1f);
              g.append("twice", 1e-5).append("small_money", 12345).append("money", -5L);
              g.append(
                  "wide_money",
                  Binary.fromConstantByteArray(
                      padded(new BigInteger("-12345678901234567890123456"), 16)));
              g.append(
                  "loose_money",
                  Binary.fromConstantByteArray(BigInteger.valueOf(1500).toByteArray()));
              g.append("day", 20514).append("tod", 3_600_001).append("tod_micros", 1L);
              g.append("at", 1_772_431_200_123L).append("at_utc", 1_772_431_200_000_001L);
              g.append("at_nanos", 1_772_431_200_000_001_000L);
              ByteBuffer julian = ByteBuffer.allocate(12).order(java.nio.ByteOrder.LITTLE_ENDIAN);
              julian.putLong(3_600_000_000_000L).putInt(2_440_588 + 1);
              g.append("old_at", Binary.fromConstantByteArray(julian.array()));
              g.append("name", "é").append("kind", "A").append("doc", "{\"x\": 1}");
              g.append("id", Binary.fromConstantByteArray(padded(BigInteger.TEN, 16)));
              g.append("bytes", Binary.fromConstantByteArray(new byte[] {0, 1, -1}));
            });
    String[] columns = {
      "ok",
      "tiny",
      "whole",
      "unsigned",
      "large",
      "huge",
      "single",
      "twice",
      "small_money",
      "money",
      "wide_money",
      "loose_money",
      "day",
      "tod",
      "tod_micros",
      "at",
      "at_utc",
      "at_nanos",
      "old_at",
      "name",
      "kind",
      "doc",
      "id",
      "bytes"
    };
    ReadRows rows = ReadRows.of(file, PARQUET, columns);
    assertEquals(
        List.of(
            "boolean",
            "smallint",
            "integer",
            "bigint",
            "bigint",
            "decimal(20,0)",
            "real",
            "double precision",
            "decimal(9,2)",
            "decimal(18,4)",
            "decimal(38,6)",
            "decimal(30,3)",
            "date",
            "time",
            "time",
            "timestamp",
            "timestamp with time zone",
            "timestamp",
            "timestamp",
            "text",
            "text",
            "json",
            "uuid",
            "varbinary"),
        rows.types());
    assertEquals(
        "true|-5|7|4294967295|-9|-1|0.1|0.00001|123.45|-0.0005|-12345678901234567890.123456|1.500"
            + "|2026-03-02|01:00:00.001|00:00:00.000001|2026-03-02 06:00:00.123"
            + "|2026-03-02 06:00:00.000001Z|2026-03-02 06:00:00.000001|1970-01-02 01:00:00"
            + "|é|A|{\"x\": 1}|00000000-0000-0000-0000-00000000000a|0001ff",
        rows.rows().get(0).replace("|18446744073709551615|", "|-1|"));
    assertNull(rows.faults().get(0));
  }

  private static byte[] padded(BigInteger value, int length) {
    byte[] bytes = value.toByteArray();
    byte[] result = new byte[length];
    Arrays.fill(result, (byte) (value.signum() < 0 ? -1 : 0));
    System.arraycopy(bytes, 0, result, length - bytes.length, bytes.length);
    return result;
  }

  @ParameterizedTest
  @EnumSource(
      value = CompressionCodecName.class,
      names = {"UNCOMPRESSED", "SNAPPY", "GZIP", "ZSTD", "LZ4_RAW"})
  void manyRowGroupsKeepTheirOrderInEveryCompression(CompressionCodecName codec)
      throws IOException {
    byte[] file =
        written(
            "message m { required int64 n; optional binary t (STRING); }",
            20_000,
            codec,
            (g, i) -> {
              g.append("n", (long) i);
              if (i % 3 != 0) {
                g.append("t", "text " + i % 100);
              }
            });
    ReadRows rows = ReadRows.of(file, PARQUET, "n", "t");
    assertEquals(20_000, rows.rows().size());
    for (int i = 0; i < 20_000; i++) {
      assertEquals(i + "|" + (i % 3 == 0 ? "-" : "text " + i % 100), rows.rows().get(i));
    }
    assertEquals("row group 1, row 1", rows.places().get(0));
    assertTrue(rows.places().get(19_999).startsWith("row group "), rows.places().get(19_999));
    assertTrue(!rows.places().get(19_999).startsWith("row group 1,"), rows.places().get(19_999));
    assertEquals("{\"n\":0,\"t\":null}", rows.raws().get(0));
    assertEquals("{\"n\":1,\"t\":\"text 1\"}", rows.raws().get(1));
  }

  @Test
  void nestedValuesAreFoundByPaths() throws IOException {
    byte[] file =
        written(
            """
            message m {
              required int32 id;
              optional group lab { required binary name (STRING); optional int32 floor; }
              optional group results (LIST) {
                repeated group list {
                  optional group element { required binary n (STRING); optional double v; }
                }
              }
              optional group marks (MAP) {
                repeated group key_value { required binary key (STRING); optional int32 value; }
              }
              repeated int32 plain;
            }""",
            3,
            (g, i) -> {
              g.append("id", i);
              if (i == 2) {
                return;
              }
              Group lab = g.addGroup("lab");
              lab.append("name", "North");
              if (i == 0) {
                lab.append("floor", 3);
              }
              Group results = g.addGroup("results");
              for (int r = 0; r <= i; r++) {
                Group element = results.addGroup(0).addGroup(0);
                element.append("n", r == 0 ? "fat" : "dry");
                if (r == 0) {
                  element.append("v", 4.5);
                }
              }
              Group mark = g.addGroup("marks").addGroup(0);
              mark.append("key", "x\"y");
              mark.append("value", 7);
              g.add("plain", 1);
              g.add("plain", 2);
            });
    ReadRows rows =
        ReadRows.of(
            file,
            PARQUET,
            "$.lab.name",
            "$.lab.floor",
            "id",
            "json:results",
            "$.results[?@.n == 'dry'].n",
            "$.results[0].v",
            "json:marks",
            "json:plain",
            "json:lab");
    ReadRows plain = ReadRows.of(file, PARQUET, "$.lab.floor", "$.lab.name", "$.lab.floor");
    assertEquals(List.of("integer", "text", "integer"), plain.types());
    assertEquals(List.of("3|North|3", "-|North|-", "-|-|-"), plain.rows());
    assertEquals(
        "North|3|0|[{\"n\":\"fat\",\"v\":4.5}]|-|4.5|{\"x\\\"y\":7}|[1,2]"
            + "|{\"name\":\"North\",\"floor\":3}",
        rows.rows().get(0));
    assertEquals(
        "North|-|1|[{\"n\":\"fat\",\"v\":4.5},{\"n\":\"dry\",\"v\":null}]|dry|4.5"
            + "|{\"x\\\"y\":7}|[1,2]|{\"name\":\"North\",\"floor\":null}",
        rows.rows().get(1));
    assertEquals("-|-|2|-|-|-|-|[]|-", rows.rows().get(2));
  }

  @Test
  void severalValuesForOneColumnAreAReject() throws IOException {
    byte[] file =
        written(
            "message m { required int32 id; repeated int32 plain; }",
            2,
            (g, i) -> {
              g.append("id", i);
              for (int n = 0; n <= i; n++) {
                g.add("plain", n);
              }
            });
    ReadRows rows = ReadRows.of(file, PARQUET, "id", "$.plain[*]");
    assertNull(rows.faults().get(0));
    assertEquals(RejectCode.SEVERAL_VALUES, rows.faults().get(1).code());
  }

  @Test
  void nanosecondsThatCannotBeKeptAreAReject() throws IOException {
    byte[] file =
        written(
            "message m { required int64 at (TIMESTAMP(NANOS,false)); }",
            2,
            (g, i) -> g.append("at", 1_000L + i));
    ReadRows rows = ReadRows.of(file, PARQUET, "at");
    assertNull(rows.faults().get(0));
    assertEquals(RejectCode.BAD_TIMESTAMP, rows.faults().get(1).code());
    assertEquals("row group 1, row 2", rows.places().get(1));
  }

  @Test
  void aFileOfAnotherImplementationIsRead() throws IOException {
    byte[] file = ReadRows.resource("foreign.parquet");
    ReadRows rows =
        ReadRows.of(file, PARQUET, "id", "name", "litres", "ok", "at", "doc", "$.doc.n");
    assertEquals(1_000, rows.rows().size());
    assertEquals(
        List.of(
            "bigint", "text", "double precision", "boolean", "timestamp with time zone", "text"),
        rows.types().subList(0, 6));
    assertEquals("1|-|-|true|2026-03-02 06:00:00Z|", rows.rows().get(0).replaceAll("\\{.*", ""));
    assertEquals(
        "2|farm 1|0.25|false|2026-03-02 06:01:00Z|", rows.rows().get(1).replaceAll("\\{.*", ""));
    assertTrue(rows.places().get(999).startsWith("row group 4"), rows.places().get(999));
  }

  @Test
  void theFilesOwnFieldsAreDescribed() throws IOException {
    List<DeclaredField> fields =
        Readers.fields(
            SourceFile.of("f", new ByteArrayInputStream(ReadRows.resource("foreign.parquet"))),
            PARQUET);
    assertEquals(
        List.of("id", "name", "litres", "ok", "at", "doc"),
        fields.stream().map(DeclaredField::path).toList());
    assertEquals("bigint", fields.get(0).type().toString());
  }

  @Test
  void aMissingColumnRefusesTheFile() throws IOException {
    byte[] file = ReadRows.resource("foreign.parquet");
    Failure lacking =
        assertThrows(Failure.class, () -> ReadRows.of(file, PARQUET, "id", "$.none.x"));
    assertTrue(
        lacking.getMessage().contains("lacks columns that the feed needs: '$.none.x' not found"),
        lacking.getMessage());
    Failure other = assertThrows(Failure.class, () -> ReadRows.of(file, PARQUET, "x", "y"));
    assertTrue(
        other.getMessage().contains("looks like a file of another feed"), other.getMessage());
  }

  @Test
  void aDamagedFileIsRefused() throws IOException {
    byte[] file = ReadRows.resource("foreign.parquet");
    for (int length : new int[] {3, 8, 100, file.length / 2, file.length - 1}) {
      byte[] cut = Arrays.copyOf(file, length);
      Failure failure = assertThrows(Failure.class, () -> ReadRows.of(cut, PARQUET, "id"));
      assertEquals(Failure.Kind.FILE, failure.kind());
    }
    byte[] broken = file.clone();
    Arrays.fill(broken, 10, 4_000, (byte) 0x5a);
    Failure failure =
        assertThrows(
            Failure.class, () -> ReadRows.of(broken, PARQUET, "id", "name", "litres", "at"));
    assertTrue(failure.getMessage().contains("row group 1 of 4"), failure.getMessage());
    Failure text =
        assertThrows(Failure.class, () -> ReadRows.of("a,b\n1,2\n".getBytes(), PARQUET, "a"));
    assertTrue(text.getMessage().contains("is not a Parquet file"), text.getMessage());
  }
}
