package dev.dusky.formats;

import dev.dusky.core.bytes.RandomContent;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import org.apache.hadoop.conf.Configuration;
import org.apache.hadoop.fs.FSDataInputStream;
import org.apache.hadoop.fs.FSDataOutputStream;
import org.apache.hadoop.fs.FileStatus;
import org.apache.hadoop.fs.FileSystem;
import org.apache.hadoop.fs.Path;
import org.apache.hadoop.fs.PositionedReadable;
import org.apache.hadoop.fs.Seekable;
import org.apache.hadoop.fs.permission.FsPermission;
import org.apache.hadoop.util.Progressable;

/** A file system with one file in it, which can only be read: what the ORC library asks for. */
final class OrcFileSystem extends FileSystem {

  private final RandomContent content;

  OrcFileSystem(RandomContent content) {
    this.content = content;
    setConf(new Configuration(false));
  }

  @Override
  public FSDataInputStream open(Path path, int bufferSize) {
    return new FSDataInputStream(new PositionedStream(content));
  }

  @Override
  public FileStatus getFileStatus(Path path) {
    return new FileStatus(content.size(), false, 1, 1 << 20, 0, path);
  }

  /** A stream whose position can be set. */
  private static final class PositionedStream extends InputStream
      implements Seekable, PositionedReadable {
    private final RandomContent content;
    private long position;

    PositionedStream(RandomContent content) {
      this.content = content;
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] to, int offset, int length) throws IOException {
      int read = read(position, to, offset, length);
      position += Math.max(0, read);
      return read;
    }

    @Override
    public int read(long from, byte[] to, int offset, int length) throws IOException {
      int read = length == 0 ? 0 : content.read(from, to, offset, length);
      return read == 0 && length > 0 ? -1 : read;
    }

    @Override
    public void readFully(long from, byte[] to, int offset, int length) throws IOException {
      int done = 0;
      while (done < length) {
        int read = read(from + done, to, offset + done, length - done);
        if (read < 0) {
          throw new EOFException("the file ends at byte " + (from + done));
        }
        done += read;
      }
    }

    @Override
    public void readFully(long from, byte[] to) throws IOException {
      readFully(from, to, 0, to.length);
    }

    @Override
    public void seek(long to) {
      position = to;
    }

    @Override
    public long getPos() {
      return position;
    }

    @Override
    public boolean seekToNewSource(long to) {
      return false;
    }
  }

  private static UnsupportedOperationException onlyRead() {
    return new UnsupportedOperationException("this only reads");
  }

  @Override
  public URI getUri() {
    return URI.create("content:///");
  }

  @Override
  public FSDataOutputStream create(
      Path path,
      FsPermission permission,
      boolean overwrite,
      int bufferSize,
      short replication,
      long blockSize,
      Progressable progress) {
    throw onlyRead();
  }

  @Override
  public FSDataOutputStream append(Path path, int bufferSize, Progressable progress) {
    throw onlyRead();
  }

  @Override
  public boolean rename(Path from, Path to) {
    throw onlyRead();
  }

  @Override
  public boolean delete(Path path, boolean recursive) {
    throw onlyRead();
  }

  @Override
  public FileStatus[] listStatus(Path path) {
    return new FileStatus[] {getFileStatus(path)};
  }

  @Override
  public void setWorkingDirectory(Path path) {}

  @Override
  public Path getWorkingDirectory() {
    return new Path("/");
  }

  @Override
  public boolean mkdirs(Path path, FsPermission permission) {
    throw onlyRead();
  }
}
