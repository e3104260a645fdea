package dev.dusky.formats;

import dev.dusky.core.source.RowFile;
import dev.dusky.core.source.SourceBatch;
import dev.dusky.core.source.SourceColumn;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileWriter;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalOutputFile;

/** Rows as a Parquet file, its pages compressed with Zstandard. */
final class ParquetRowFile implements RowFile {

  private final ParquetRowSupport support;
  private final ParquetWriter<Integer> writer;

  ParquetRowFile(Path file, List<SourceColumn> columns) throws IOException {
    support = new ParquetRowSupport(columns);
    writer =
        new Builder(file, support)
            .withConf(new PlainParquetConfiguration())
            .withCodecFactory(new ParquetCodecs())
            .withCompressionCodec(CompressionCodecName.ZSTD)
            .withWriteMode(ParquetFileWriter.Mode.OVERWRITE)
            .build();
  }

  /** The library's way to say how rows are written. */
  private static final class Builder extends ParquetWriter.Builder<Integer, Builder> {
    private final ParquetRowSupport support;

    Builder(Path file, ParquetRowSupport support) {
      super(new LocalOutputFile(file));
      this.support = support;
    }

    @Override
    protected Builder self() {
      return this;
    }

    @Override
    protected ParquetRowSupport getWriteSupport(org.apache.hadoop.conf.Configuration conf) {
      return support;
    }

    @Override
    protected ParquetRowSupport getWriteSupport(org.apache.parquet.conf.ParquetConfiguration conf) {
      return support;
    }
  }

  @Override
  public void write(SourceBatch batch) throws IOException {
    support.batch(batch);
    for (int row = 0; row < batch.rows(); row++) {
      writer.write(row);
    }
  }

  @Override
  public long bytes() {
    return writer.getDataSize();
  }

  @Override
  public void close() throws IOException {
    writer.close();
  }
}
