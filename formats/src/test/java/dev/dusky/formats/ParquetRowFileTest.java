package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.source.RowFile;
import dev.dusky.core.source.RowFiles;
import dev.dusky.core.source.SourceBatch;
import dev.dusky.core.source.SourceColumn;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.BytesVector;
import dev.dusky.core.vector.ColumnVector;
import dev.dusky.core.vector.DecimalVector;
import dev.dusky.core.vector.DoubleVector;
import dev.dusky.core.vector.LongVector;
import dev.dusky.core.vector.UuidVector;
import dev.dusky.core.vector.VectorText;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rows of typed columns as Parquet: what is written is what is read. */
class ParquetRowFileTest {

  private static final List<String> TYPES =
      List.of(
          "boolean",
          "smallint",
          "integer",
          "bigint",
          "decimal(9,2)",
          "decimal(18,4)",
          "decimal(38,10)",
          "real",
          "double precision",
          "text",
          "date",
          "time",
          "timestamp",
          "timestamp with time zone",
          "uuid",
          "json",
          "bytea");

  @TempDir Path folder;

  private static List<SourceColumn> columns() {
    return TYPES.stream()
        .map(type -> SqlType.parse(type).orElseThrow())
        .map(type -> new SourceColumn("c" + type.hashCode(), "c", type, type.toString()))
        .toList();
  }

  private static void fill(SqlType type, ColumnVector vector, int row, Random random) {
    if (random.nextInt(5) == 0) {
      vector.setNull(row);
      return;
    }
    switch (type.kind()) {
      case BOOLEAN -> ((LongVector) vector).set(row, random.nextInt(2));
      case SMALLINT -> ((LongVector) vector).set(row, (short) random.nextInt());
      case INTEGER -> ((LongVector) vector).set(row, random.nextInt());
      case BIGINT -> ((LongVector) vector).set(row, random.nextLong());
      case DATE -> ((LongVector) vector).set(row, random.nextInt(3_600_000) - 719_000);
      case TIME -> ((LongVector) vector).set(row, (long) (random.nextDouble() * 86_400_000_000L));
      case TIMESTAMP, TIMESTAMP_TZ ->
          ((LongVector) vector).set(row, random.nextLong() % 60_000_000_000_000_000L);
      case REAL -> ((DoubleVector) vector).set(row, random.nextFloat() * 1e10f);
      case DOUBLE -> ((DoubleVector) vector).set(row, random.nextGaussian() * 1e200);
      case DECIMAL -> decimal(type, (DecimalVector) vector, row, random);
      case UUID -> ((UuidVector) vector).set(row, random.nextLong(), random.nextLong());
      default -> {
        boolean json = type.toString().equals("json");
        String text = "\u00e9".repeat(random.nextInt(40)) + random.nextInt();
        byte[] bytes = (json ? "{\"a\":\"" + text + "\"}" : text).getBytes(StandardCharsets.UTF_8);
        ((BytesVector) vector).set(row, bytes, 0, bytes.length);
      }
    }
  }

  private static void decimal(SqlType type, DecimalVector vector, int row, Random random) {
    BigInteger most = BigInteger.TEN.pow(type.precision());
    BigInteger value = new BigInteger(200, random).mod(most);
    BigInteger signed = random.nextBoolean() ? value : value.negate();
    if (signed.bitLength() > 60) {
      vector.setWide(row, signed);
    } else {
      vector.set(row, signed.longValueExact());
    }
  }

  @Test
  void whatIsWrittenIsWhatIsRead() throws Exception {
    List<SourceColumn> columns = columns();
    Random random = new Random(3);
    Path file = folder.resolve("rows");
    List<String> expected = new ArrayList<>();
    try (RowFile out = RowFiles.of("x/1.parquet").create("x/1.parquet", file, columns)) {
      SourceBatch batch = new SourceBatch(columns);
      for (int turn = 0; turn < 3; turn++) {
        batch.reset();
        int rows = turn == 1 ? SourceBatch.ROWS : 1 + random.nextInt(900);
        for (int row = 0; row < rows; row++) {
          List<String> texts = new ArrayList<>();
          for (int c = 0; c < columns.size(); c++) {
            SqlType type = columns.get(c).type();
            fill(type, batch.column(c), row, random);
            texts.add(
                batch.column(c).isNull(row) ? "-" : VectorText.text(type, batch.column(c), row));
          }
          expected.add(String.join("|", texts));
        }
        batch.rows(rows);
        out.write(batch);
        assertTrue(out.bytes() > 0);
      }
    }
    ReadRows read =
        ReadRows.of(
            Files.readAllBytes(file),
            new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20),
            columns.stream().map(SourceColumn::name).toArray(String[]::new));
    assertEquals(
        columns.stream().map(c -> c.type().toString()).toList(),
        read.types(),
        "types are those of the columns");
    assertEquals(expected, read.rows());
  }
}
