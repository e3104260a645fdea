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
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.apache.avro.Schema;
import org.apache.avro.file.CodecFactory;
import org.apache.avro.file.DataFileWriter;
import org.apache.avro.generic.GenericData;
import org.apache.avro.generic.GenericDatumWriter;
import org.apache.avro.generic.GenericRecord;
import org.apache.avro.generic.GenericRecordBuilder;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class AvroReaderTest {

  private static final ColumnarLayout AVRO =
      new ColumnarLayout("a", ColumnarLayout.Format.AVRO, List.of(), 1 << 20);

  private static final Schema ALL =
      new Schema.Parser()
          .parse(
              """
              {"type":"record","name":"All","fields":[
                {"name":"ok","type":"boolean"},
                {"name":"n","type":["null","int"]},
                {"name":"large","type":"long"},
                {"name":"single","type":"float"},
                {"name":"twice","type":["double","null"]},
                {"name":"money","type":{"type":"bytes","logicalType":"decimal","precision":12,"scale":2}},
                {"name":"wide","type":{"type":"fixed","name":"W","size":16,"logicalType":"decimal","precision":38,"scale":4}},
                {"name":"day","type":{"type":"int","logicalType":"date"}},
                {"name":"tod","type":{"type":"int","logicalType":"time-millis"}},
                {"name":"at","type":{"type":"long","logicalType":"timestamp-millis"}},
                {"name":"local","type":{"type":"long","logicalType":"local-timestamp-micros"}},
                {"name":"id","type":{"type":"string","logicalType":"uuid"}},
                {"name":"grade","type":{"type":"enum","name":"G","symbols":["A","B"]}},
                {"name":"bytes","type":"bytes"},
                {"name":"name","type":["null","string"]},
                {"name":"either","type":["null","string","long"]},
                {"name":"list","type":{"type":"array","items":["null","int"]}},
                {"name":"map","type":{"type":"map","values":"string"}},
                {"name":"lab","type":["null",{"type":"record","name":"Lab","fields":[
                  {"name":"city","type":"string"},{"name":"floor","type":["null","int"]}]}]}
              ]}""");

  private static byte[] written(Schema schema, CodecFactory codec, List<GenericRecord> records)
      throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (DataFileWriter<GenericRecord> writer =
        new DataFileWriter<>(new GenericDatumWriter<>(schema))) {
      writer.setCodec(codec);
      writer.setSyncInterval(2_000);
      writer.create(schema, out);
      for (GenericRecord record : records) {
        writer.append(record);
      }
    }
    return out.toByteArray();
  }

  private static GenericRecord full(int n) {
    Schema lab = ALL.getField("lab").schema().getTypes().get(1);
    byte[] wide = new byte[16];
    byte[] unscaled = new BigInteger("-123456789012345678901234").toByteArray();
    Arrays.fill(wide, (byte) -1);
    System.arraycopy(unscaled, 0, wide, 16 - unscaled.length, unscaled.length);
    return new GenericRecordBuilder(ALL)
        .set("ok", true)
        .set("n", n)
        .set("large", 1L << 40)
        .set("single", 0.5f)
        .set("twice", 2.25)
        .set("money", ByteBuffer.wrap(BigInteger.valueOf(-12345).toByteArray()))
        .set("wide", new GenericData.Fixed(ALL.getField("wide").schema(), wide))
        .set("day", 20514)
        .set("tod", 3_600_001)
        .set("at", 1_772_431_200_123L)
        .set("local", 1_772_431_200_000_001L)
        .set("id", "a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11")
        .set("grade", new GenericData.EnumSymbol(ALL.getField("grade").schema(), "B"))
        .set("bytes", ByteBuffer.wrap(new byte[] {1, -1}))
        .set("name", "é\"x")
        .set("either", 7L)
        .set("list", Arrays.asList(1, null, 3))
        .set("map", Map.of("k", "v"))
        .set("lab", new GenericRecordBuilder(lab).set("city", "North").set("floor", null).build())
        .build();
  }

  @Test
  void logicalTypesBecomeSqlTypes() throws IOException {
    byte[] file = written(ALL, CodecFactory.nullCodec(), List.of(full(5)));
    String[] columns =
        ALL.getFields().stream()
            .map(f -> (f.name().matches("either|list|map|lab") ? "json:" : "") + f.name())
            .toArray(String[]::new);
    ReadRows rows = ReadRows.of(file, AVRO, columns);
    assertEquals(
        List.of(
            "boolean",
            "integer",
            "bigint",
            "real",
            "double precision",
            "decimal(12,2)",
            "decimal(38,4)",
            "date",
            "time",
            "timestamp with time zone",
            "timestamp",
            "uuid",
            "text",
            "varbinary",
            "text",
            "json",
            "json",
            "json",
            "json"),
        rows.types());
    assertEquals(
        "true|5|1099511627776|0.5|2.25|-123.45|-12345678901234567890.1234|2026-03-02|01:00:00.001"
            + "|2026-03-02 06:00:00.123Z|2026-03-02 06:00:00.000001"
            + "|a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11|B|01ff|é\"x|7|[1,null,3]|{\"k\":\"v\"}"
            + "|{\"city\":\"North\",\"floor\":null}",
        rows.rows().get(0));
  }

  @ParameterizedTest
  @ValueSource(strings = {"null", "deflate", "snappy", "bzip2", "xz", "zstandard"})
  void everyCodecIsRead(String codec) throws IOException {
    Schema schema =
        new Schema.Parser()
            .parse(
                "{\"type\":\"record\",\"name\":\"R\",\"fields\":[{\"name\":\"n\",\"type\":\"long\"},"
                    + "{\"name\":\"skip\",\"type\":\"string\"},{\"name\":\"t\",\"type\":\"string\"}]}");
    List<GenericRecord> records = new java.util.ArrayList<>();
    for (int i = 0; i < 5_000; i++) {
      records.add(
          new GenericRecordBuilder(schema)
              .set("n", (long) i)
              .set("skip", "x")
              .set("t", "t" + i)
              .build());
    }
    ReadRows rows =
        ReadRows.of(written(schema, CodecFactory.fromString(codec), records), AVRO, "t", "n");
    assertEquals(5_000, rows.rows().size());
    for (int i = 0; i < 5_000; i++) {
      assertEquals("t" + i + "|" + i, rows.rows().get(i));
    }
    assertEquals("block 1, row 1", rows.places().get(0));
    assertTrue(
        rows.places().get(4_999).matches("block [1-9]\\d+, row \\d+"), rows.places().get(4_999));
    assertEquals("{\"t\":\"t7\",\"n\":7}", rows.raws().get(7));
  }

  @Test
  void nestedValuesAreFoundByPaths() throws IOException {
    byte[] file = written(ALL, CodecFactory.nullCodec(), List.of(full(5)));
    ReadRows rows =
        ReadRows.of(
            file,
            AVRO,
            "$.lab.city",
            "$.lab.floor",
            "$.list[2]",
            "json:$.list[*]",
            "$.map.k",
            "NAME");
    assertEquals("North|-|3|[1,null,3]|v|é\"x", rows.rows().get(0));
    assertEquals("integer", rows.types().get(1));
    ReadRows several = ReadRows.of(file, AVRO, "$.list[?@ > 0]");
    assertEquals(RejectCode.SEVERAL_VALUES, several.faults().get(0).code());
  }

  @Test
  void aRecordThatIsNotThereGivesNulls() throws IOException {
    GenericRecord record = full(1);
    record.put("lab", null);
    record.put("n", null);
    record.put("name", null);
    ReadRows rows =
        ReadRows.of(
            written(ALL, CodecFactory.nullCodec(), List.of(record)),
            AVRO,
            "$.lab.city",
            "n",
            "name",
            "json:lab");
    assertEquals("-|-|-|-", rows.rows().get(0));
    assertNull(rows.faults().get(0));
  }

  @ParameterizedTest
  @ValueSource(strings = {"foreign-null.avro", "foreign-deflate.avro"})
  void filesOfAnotherImplementationAreRead(String name) throws IOException {
    ReadRows rows =
        ReadRows.of(
            ReadRows.resource(name),
            AVRO,
            "id",
            "farm",
            "fat",
            "taken",
            "grade",
            "json:results",
            "$.results[0].value",
            "$.marks.x",
            "$.lab.city");
    assertEquals(500, rows.rows().size());
    assertEquals(
        "1|F1|3.501|20001|A"
            + "|[{\"name\":\"fat\",\"value\":0.1},{\"name\":\"protein\",\"value\":3.25}]|0.1|1|North",
        rows.rows().get(0));
    assertTrue(rows.rows().get(19).startsWith("20|-|-|20020|B|"), rows.rows().get(19));
  }

  @Test
  void theFilesOwnFieldsAreDescribed() throws IOException {
    List<DeclaredField> fields =
        Readers.fields(
            SourceFile.of("f", new ByteArrayInputStream(ReadRows.resource("foreign-null.avro"))),
            AVRO);
    assertEquals("id", fields.get(0).path());
    assertTrue(fields.get(0).required());
    assertEquals("text", fields.get(1).type().toString());
    assertTrue(!fields.get(1).required());
    assertEquals("json", fields.get(5).type().toString());
  }

  @Test
  void aDamagedFileIsRefused() throws IOException {
    byte[] file = ReadRows.resource("foreign-null.avro");
    for (int length : new int[] {2, 20, 700, file.length - 5}) {
      byte[] cut = Arrays.copyOf(file, length);
      Failure failure = assertThrows(Failure.class, () -> ReadRows.of(cut, AVRO, "id"));
      assertEquals(Failure.Kind.FILE, failure.kind());
    }
    byte[] broken = ReadRows.resource("foreign-deflate.avro");
    Arrays.fill(broken, broken.length / 2, broken.length - 40, (byte) 0xff);
    Failure failure =
        assertThrows(Failure.class, () -> ReadRows.of(broken, AVRO, "id", "farm", "$.lab.city"));
    assertTrue(failure.getMessage().contains("is cut or damaged"), failure.getMessage());
    Failure text = assertThrows(Failure.class, () -> ReadRows.of("a,b\n".getBytes(), AVRO, "a"));
    assertTrue(text.getMessage().contains("is not an Avro file"), text.getMessage());
    Failure missing = assertThrows(Failure.class, () -> ReadRows.of(file, AVRO, "id", "none"));
    assertTrue(missing.getMessage().contains("'none' not found"), missing.getMessage());
  }
}
