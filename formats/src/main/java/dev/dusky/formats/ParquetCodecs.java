package dev.dusky.formats;

import com.github.luben.zstd.Zstd;
import io.airlift.compress.lz4.Lz4Decompressor;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.xerial.snappy.Snappy;

/** The compressions of Parquet pages, without Hadoop's codec classes. */
final class ParquetCodecs implements CompressionCodecFactory {

  /** Decompresses one page whose size is known. */
  private interface Codec {
    void decompress(byte[] from, byte[] to) throws IOException;
  }

  @Override
  public BytesInputCompressor getCompressor(CompressionCodecName name) {
    if (name != CompressionCodecName.ZSTD) {
      throw new IllegalArgumentException("files are written with Zstandard, not " + name);
    }
    return new ZstdPages();
  }

  @Override
  public BytesInputDecompressor getDecompressor(CompressionCodecName name) {
    return switch (name) {
      case UNCOMPRESSED -> new Pages((from, to) -> System.arraycopy(from, 0, to, 0, to.length));
      case SNAPPY -> new Pages((from, to) -> Snappy.uncompress(from, 0, from.length, to, 0));
      case GZIP -> new Pages(ParquetCodecs::inflate);
      case ZSTD -> new Pages(ParquetCodecs::zstd);
      case LZ4_RAW ->
          new Pages(
              (from, to) ->
                  new Lz4Decompressor().decompress(from, 0, from.length, to, 0, to.length));
      default ->
          throw new IllegalArgumentException(
              "its pages are compressed with " + name + ", which cannot be read");
    };
  }

  private static void zstd(byte[] from, byte[] to) throws IOException {
    long size = Zstd.decompress(to, from);
    if (Zstd.isError(size)) {
      throw new IOException("a page is damaged: " + Zstd.getErrorName(size));
    }
  }

  private static void inflate(byte[] from, byte[] to) throws IOException {
    // A gzip member: ten bytes before the deflated data, at least; the JDK's stream knows them all.
    try (java.util.zip.GZIPInputStream in =
        new java.util.zip.GZIPInputStream(new java.io.ByteArrayInputStream(from))) {
      if (in.readNBytes(to, 0, to.length) != to.length) {
        throw new IOException("a page ends too early");
      }
    } catch (java.util.zip.ZipException e) {
      bare(from, to, e);
    }
  }

  /** Some writers leave the gzip header out. */
  private static void bare(byte[] from, byte[] to, IOException first) throws IOException {
    Inflater inflater = new Inflater();
    try {
      inflater.setInput(from);
      if (inflater.inflate(to) != to.length) {
        throw first;
      }
    } catch (DataFormatException e) {
      throw first;
    } finally {
      inflater.end();
    }
  }

  @Override
  public void release() {}

  /** Decompresses pages with a codec. */
  private record Pages(Codec codec) implements BytesInputDecompressor {

    @Override
    public BytesInput decompress(BytesInput page, int size) throws IOException {
      byte[] to = new byte[size];
      codec.decompress(page.toByteArray(), to);
      return BytesInput.from(to);
    }

    @Override
    public void decompress(ByteBuffer from, int fromSize, ByteBuffer to, int toSize)
        throws IOException {
      byte[] source = new byte[fromSize];
      from.get(source);
      byte[] target = new byte[toSize];
      codec.decompress(source, target);
      to.put(target);
    }

    @Override
    public void release() {}
  }

  /** Compresses pages with Zstandard. */
  private static final class ZstdPages implements BytesInputCompressor {

    @Override
    public BytesInput compress(BytesInput page) throws IOException {
      return BytesInput.from(Zstd.compress(page.toByteArray()));
    }

    @Override
    public CompressionCodecName getCodecName() {
      return CompressionCodecName.ZSTD;
    }

    @Override
    public void release() {}
  }
}
