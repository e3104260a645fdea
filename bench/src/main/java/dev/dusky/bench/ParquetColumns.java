package dev.dusky.bench;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.SimpleGroupFactory;
import org.apache.parquet.example.data.simple.convert.GroupRecordConverter;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.example.ExampleParquetWriter;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalInputFile;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.MessageTypeParser;

/** The dockets as Parquet, and the library's own way to read its columns. */
final class ParquetColumns {

  private static final MessageType SCHEMA =
      MessageTypeParser.parseMessageType(
          """
          message docket {
            required int64 docket_no;
            required binary farm_code (STRING);
            required int64 collected_at (TIMESTAMP(MICROS,false));
            required int64 litres (DECIMAL(9,1));
            required int32 fat (DECIMAL(5,2));
            required int32 protein (DECIMAL(5,2));
            required binary remark (STRING);
            required binary grade (STRING);
          }""");

  private ParquetColumns() {}

  static void write(Path csv, Path file) throws IOException {
    try (BufferedReader in = Files.newBufferedReader(csv);
        ParquetWriter<Group> writer =
            ExampleParquetWriter.builder(new LocalOutputFile(file))
                .withType(SCHEMA)
                .withCompressionCodec(CompressionCodecName.SNAPPY)
                .withRowGroupSize(16L << 20)
                .build()) {
      SimpleGroupFactory groups = new SimpleGroupFactory(SCHEMA);
      in.readLine();
      for (String line = in.readLine(); line != null; line = in.readLine()) {
        String[] v = line.split(",(?=(?:[^\"]*\"[^\"]*\")*[^\"]*$)");
        LocalDateTime at = LocalDateTime.parse(v[2].replace(' ', 'T'));
        writer.write(
            groups
                .newGroup()
                .append("docket_no", Long.parseLong(v[0]))
                .append("farm_code", v[1])
                .append("collected_at", at.toEpochSecond(ZoneOffset.UTC) * 1_000_000)
                .append("litres", Long.parseLong(v[3].replace(".", "")))
                .append("fat", Integer.parseInt(v[4].replace(".", "")))
                .append("protein", Integer.parseInt(v[5].replace(".", "")))
                .append("remark", v[6].replace("\"", ""))
                .append("grade", v[7]));
      }
    }
  }

  /** Reads every value of every column with the library's column readers; gives the rows. */
  static long read(Path file) throws IOException {
    long rows = 0;
    long sum = 0;
    try (ParquetFileReader reader = ParquetFileReader.open(new LocalInputFile(file))) {
      for (PageReadStore pages = reader.readNextRowGroup();
          pages != null;
          pages = reader.readNextRowGroup()) {
        ColumnReadStoreImpl store =
            new ColumnReadStoreImpl(
                pages, new GroupRecordConverter(SCHEMA).getRootConverter(), SCHEMA, null);
        for (ColumnDescriptor column : SCHEMA.getColumns()) {
          ColumnReader values = store.getColumnReader(column);
          for (long i = 0; i < pages.getRowCount(); i++) {
            sum +=
                switch (column.getPrimitiveType().getPrimitiveTypeName()) {
                  case INT64 -> values.getLong();
                  case INT32 -> values.getInteger();
                  default -> values.getBinary().length();
                };
            values.consume();
          }
        }
        rows += pages.getRowCount();
      }
    }
    if (sum == 0) {
      throw new IllegalStateException("no values were read");
    }
    return rows;
  }
}
