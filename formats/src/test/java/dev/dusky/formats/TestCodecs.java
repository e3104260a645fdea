package dev.dusky.formats;

import com.github.luben.zstd.Zstd;
import io.airlift.compress.lz4.Lz4Compressor;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.Arrays;
import java.util.zip.GZIPOutputStream;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.xerial.snappy.Snappy;

/** Compresses pages, so that tests can write what the program reads. */
final class TestCodecs implements CompressionCodecFactory {

  @Override
  public BytesInputCompressor getCompressor(CompressionCodecName name) {
    return new BytesInputCompressor() {
      @Override
      public BytesInput compress(BytesInput page) throws IOException {
        return BytesInput.from(compressed(name, page.toByteArray()));
      }

      @Override
      public CompressionCodecName getCodecName() {
        return name;
      }

      @Override
      public void release() {}
    };
  }

  private static byte[] compressed(CompressionCodecName name, byte[] page) throws IOException {
    return switch (name) {
      case SNAPPY -> Snappy.compress(page);
      case ZSTD -> Zstd.compress(page);
      case GZIP -> {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream out = new GZIPOutputStream(bytes)) {
          out.write(page);
        }
        yield bytes.toByteArray();
      }
      case LZ4_RAW -> {
        Lz4Compressor lz4 = new Lz4Compressor();
        byte[] to = new byte[lz4.maxCompressedLength(page.length)];
        yield Arrays.copyOf(to, lz4.compress(page, 0, page.length, to, 0, to.length));
      }
      default -> page;
    };
  }

  @Override
  public BytesInputDecompressor getDecompressor(CompressionCodecName name) {
    throw new UnsupportedOperationException("this only writes");
  }

  @Override
  public void release() {}
}
