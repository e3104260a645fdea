package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
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
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.TimeZone;
import org.apache.orc.CompressionKind;
import org.apache.orc.OrcFile;
import org.apache.orc.TypeDescription;
import org.apache.orc.Writer;
import org.apache.orc.storage.common.type.HiveDecimal;
import org.apache.orc.storage.ql.exec.vector.BytesColumnVector;
import org.apache.orc.storage.ql.exec.vector.DecimalColumnVector;
import org.apache.orc.storage.ql.exec.vector.DoubleColumnVector;
import org.apache.orc.storage.ql.exec.vector.ListColumnVector;
import org.apache.orc.storage.ql.exec.vector.LongColumnVector;
import org.apache.orc.storage.ql.exec.vector.MapColumnVector;
import org.apache.orc.storage.ql.exec.vector.StructColumnVector;
import org.apache.orc.storage.ql.exec.vector.TimestampColumnVector;
import org.apache.orc.storage.ql.exec.vector.VectorizedRowBatch;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class OrcReaderTest {

  private static final ColumnarLayout ORC =
      new ColumnarLayout("o", ColumnarLayout.Format.ORC, List.of(), 1 << 20);

  /** Fills the rows of a batch. */
  private interface Fill {
    void row(VectorizedRowBatch batch, int row, int number);
  }

  private static byte[] written(String schema, int rows, CompressionKind kind, Fill fill)
      throws IOException {
    TypeDescription type = TypeDescription.fromString(schema);
    MemoryFiles files = new MemoryFiles();
    try (Writer writer =
        OrcFile.createWriter(
            MemoryFiles.PATH,
            OrcFile.writerOptions(files.getConf())
                .fileSystem(files)
                .setSchema(type)
                .compress(kind)
                .useUTCTimestamp(true)
                .stripeSize(10_000)
                .rowIndexStride(1_000))) {
      VectorizedRowBatch batch = type.createRowBatch(100);
      for (int i = 0; i < rows; i++) {
        fill.row(batch, batch.size++, i);
        if (batch.size == batch.getMaxSize()) {
          writer.addRowBatch(batch);
          batch.reset();
        }
      }
      writer.addRowBatch(batch);
    }
    return files.bytes();
  }

  /** A sound file of some rows. */
  static byte[] sample(CompressionKind kind) throws IOException {
    return written(
        "struct<n:bigint,name:string,at:timestamp,tags:array<string>>",
        400,
        kind,
        (b, r, i) -> {
          ((LongColumnVector) b.cols[0]).vector[r] = i * 7L;
          text((BytesColumnVector) b.cols[1], r, i % 5 == 0 ? null : "farm " + i);
          ((TimestampColumnVector) b.cols[2]).time[r] = 1_783_058_760_000L + i * 60_000L;
          ListColumnVector tags = (ListColumnVector) b.cols[3];
          tags.offsets[r] = tags.childCount;
          tags.lengths[r] = i % 3;
          tags.childCount += i % 3;
          tags.child.ensureSize(tags.childCount, true);
          for (int c = (int) tags.offsets[r]; c < tags.childCount; c++) {
            text((BytesColumnVector) tags.child, c, "tag " + c);
          }
        });
  }

  private static void text(BytesColumnVector vector, int row, String value) {
    if (value == null) {
      vector.noNulls = false;
      vector.isNull[row] = true;
    } else {
      vector.setVal(row, value.getBytes(StandardCharsets.UTF_8));
    }
  }

  @Test
  void typesBecomeSqlTypes() throws IOException {
    byte[] file =
        written(
            "struct<ok:boolean,tiny:tinyint,small:smallint,n:int,large:bigint,single:float,"
                + "twice:double,money:decimal(12,2),wide:decimal(38,4),name:string,code:varchar(8),"
                + "fixed:char(4),bytes:binary,day:date,at:timestamp,"
                + "instant:timestamp with local time zone>",
            1,
            CompressionKind.NONE,
            (b, r, i) -> {
              ((LongColumnVector) b.cols[0]).vector[r] = 1;
              ((LongColumnVector) b.cols[1]).vector[r] = -5;
              ((LongColumnVector) b.cols[2]).vector[r] = 500;
              ((LongColumnVector) b.cols[3]).vector[r] = 70_000;
              ((LongColumnVector) b.cols[4]).vector[r] = 1L << 40;
              ((DoubleColumnVector) b.cols[5]).vector[r] = 0.5;
              ((DoubleColumnVector) b.cols[6]).vector[r] = 1e-5;
              ((DecimalColumnVector) b.cols[7]).set(r, HiveDecimal.create("-123.45"));
              ((DecimalColumnVector) b.cols[8])
                  .set(r, HiveDecimal.create(new BigDecimal("12345678901234567890.1234")));
              text((BytesColumnVector) b.cols[9], r, "é");
              text((BytesColumnVector) b.cols[10], r, "code");
              text((BytesColumnVector) b.cols[11], r, "ab");
              ((BytesColumnVector) b.cols[12]).setVal(r, new byte[] {1, -1});
              ((LongColumnVector) b.cols[13]).vector[r] = 20_514;
              ((TimestampColumnVector) b.cols[14]).time[r] = 1_772_431_200_123L;
              ((TimestampColumnVector) b.cols[14]).nanos[r] = 123_456_000;
              ((TimestampColumnVector) b.cols[15]).time[r] = 1_772_431_200_000L;
              ((TimestampColumnVector) b.cols[15]).nanos[r] = 0;
            });
    ReadRows rows =
        ReadRows.of(
            file, ORC, "ok", "tiny", "small", "n", "large", "single", "twice", "money", "wide",
            "name", "code", "fixed", "bytes", "day", "at", "instant");
    assertEquals(
        List.of(
            "boolean",
            "smallint",
            "smallint",
            "integer",
            "bigint",
            "real",
            "double precision",
            "decimal(12,2)",
            "decimal(38,4)",
            "text",
            "text",
            "text",
            "varbinary",
            "date",
            "timestamp",
            "timestamp with time zone"),
        rows.types());
    assertEquals(
        "true|-5|500|70000|1099511627776|0.5|0.00001|-123.45|12345678901234567890.1234|é|code|ab"
            + "|01ff|2026-03-02|2026-03-02 06:00:00.123456|2026-03-02 06:00:00Z",
        rows.rows().get(0));
  }

  @ParameterizedTest
  @EnumSource(
      value = CompressionKind.class,
      names = {"NONE", "ZLIB", "SNAPPY", "ZSTD", "LZ4"})
  void stripesKeepTheirOrder(CompressionKind kind) throws IOException {
    byte[] file =
        written(
            "struct<n:int,skip:string,t:string>",
            6_000,
            kind,
            (b, r, i) -> {
              ((LongColumnVector) b.cols[0]).vector[r] = i;
              text((BytesColumnVector) b.cols[1], r, "skip");
              text((BytesColumnVector) b.cols[2], r, i % 3 == 0 ? null : "t" + i);
            });
    ReadRows rows = ReadRows.of(file, ORC, "t", "n");
    assertEquals(6_000, rows.rows().size());
    for (int i = 0; i < 6_000; i++) {
      assertEquals((i % 3 == 0 ? "-" : "t" + i) + "|" + i, rows.rows().get(i));
    }
    assertEquals("stripe 1, row 1", rows.places().get(0));
    assertTrue(!rows.places().get(5_999).startsWith("stripe 1,"), rows.places().get(5_999));
    assertEquals("{\"t\":null,\"n\":0}", rows.raws().get(0));
  }

  @Test
  void nestedValuesAreFoundByPaths() throws IOException {
    byte[] file =
        written(
            "struct<id:int,lab:struct<city:string,floor:int>,list:array<int>,map:map<string,int>>",
            2,
            CompressionKind.NONE,
            (b, r, i) -> {
              ((LongColumnVector) b.cols[0]).vector[r] = i;
              StructColumnVector lab = (StructColumnVector) b.cols[1];
              ListColumnVector list = (ListColumnVector) b.cols[2];
              MapColumnVector map = (MapColumnVector) b.cols[3];
              if (i == 1) {
                for (var vector : List.of(lab, list, map)) {
                  vector.noNulls = false;
                  vector.isNull[r] = true;
                }
                return;
              }
              text((BytesColumnVector) lab.fields[0], r, "North");
              ((LongColumnVector) lab.fields[1]).vector[r] = 3;
              list.offsets[r] = 0;
              list.lengths[r] = 2;
              list.childCount = 2;
              ((LongColumnVector) list.child).vector[0] = 10;
              ((LongColumnVector) list.child).vector[1] = 20;
              map.offsets[r] = 0;
              map.lengths[r] = 1;
              map.childCount = 1;
              text((BytesColumnVector) map.keys, 0, "k\"q");
              ((LongColumnVector) map.values).vector[0] = 7;
            });
    ReadRows rows =
        ReadRows.of(
            file,
            ORC,
            "$.lab.city",
            "$.lab.floor",
            "json:lab",
            "json:list",
            "$.list[1]",
            "json:map",
            "id");
    assertEquals(
        "North|3|{\"city\":\"North\",\"floor\":3}|[10,20]|20|{\"k\\\"q\":7}|0", rows.rows().get(0));
    assertEquals("-|-|-|-|-|-|1", rows.rows().get(1));
  }

  @Test
  void nanosecondsThatCannotBeKeptAreAReject() throws IOException {
    byte[] file =
        written(
            "struct<at:timestamp>",
            2,
            CompressionKind.NONE,
            (b, r, i) -> {
              ((TimestampColumnVector) b.cols[0]).time[r] = 1_000L;
              ((TimestampColumnVector) b.cols[0]).nanos[r] = i;
            });
    ReadRows rows = ReadRows.of(file, ORC, "at");
    assertEquals(RejectCode.BAD_TIMESTAMP, rows.faults().get(1).code());
    assertEquals("1970-01-01 00:00:01", rows.rows().get(0));
  }

  @Test
  void theFilesOwnFieldsAreDescribed() throws IOException {
    byte[] file =
        written(
            "struct<n:int,money:decimal(9,2)>",
            1,
            CompressionKind.NONE,
            (b, r, i) -> ((DecimalColumnVector) b.cols[1]).set(r, HiveDecimal.create("1.5")));
    List<DeclaredField> fields =
        Readers.fields(SourceFile.of("f", new ByteArrayInputStream(file)), ORC);
    assertEquals(List.of("n", "money"), fields.stream().map(DeclaredField::path).toList());
    assertEquals("decimal(9,2)", fields.get(1).type().toString());
  }

  @Test
  void aDamagedFileIsRefused() throws IOException {
    byte[] file =
        written(
            "struct<n:int>",
            3_000,
            CompressionKind.ZLIB,
            (b, r, i) -> ((LongColumnVector) b.cols[0]).vector[r] = i * 7919L % 1000);
    for (int length : new int[] {3, 50, file.length / 2, file.length - 1}) {
      byte[] cut = Arrays.copyOf(file, length);
      Failure failure = assertThrows(Failure.class, () -> ReadRows.of(cut, ORC, "n"));
      assertEquals(Failure.Kind.FILE, failure.kind());
      assertTrue(failure.getMessage().contains("is cut or damaged"), failure.getMessage());
    }
    Failure text = assertThrows(Failure.class, () -> ReadRows.of("a,b\n".getBytes(), ORC, "a"));
    assertTrue(text.getMessage().contains("is not an ORC file"), text.getMessage());
    Failure missing = assertThrows(Failure.class, () -> ReadRows.of(file, ORC, "n", "none"));
    assertTrue(missing.getMessage().contains("'none' not found"), missing.getMessage());
  }

  /** The program runs in UTC, so what an unnamed zone means does not depend on the machine. */
  @Test
  void aFileThatDoesNotNameTheZoneOfItsWriterIsReadAsWrittenInUtc() throws IOException {
    byte[] named = sample(CompressionKind.NONE);
    byte[] unnamed = named.clone();
    byte[] zone = {0x1a, 3, 'U', 'T', 'C'}; // field 3 of a stripe's footer
    int found = 0;
    for (int i = 0; i + zone.length <= unnamed.length; i++) {
      if (Arrays.equals(unnamed, i, i + zone.length, zone, 0, zone.length)) {
        unnamed[i] = 0x7a; // a field that nobody knows
        found++;
      }
    }
    assertTrue(found > 0, "the writer names its zone");
    TimeZone machine = TimeZone.getDefault();
    try {
      TimeZone.setDefault(TimeZone.getTimeZone("UTC"));
      assertEquals(
          ReadRows.of(named, ORC, "n", "at").rows(), ReadRows.of(unnamed, ORC, "n", "at").rows());
    } finally {
      TimeZone.setDefault(machine);
    }
  }
}
