package dev.dusky.formats;

import java.io.ByteArrayOutputStream;
import java.net.URI;
import org.apache.hadoop.conf.Configuration;
import org.apache.hadoop.fs.FSDataInputStream;
import org.apache.hadoop.fs.FSDataOutputStream;
import org.apache.hadoop.fs.FileStatus;
import org.apache.hadoop.fs.FileSystem;
import org.apache.hadoop.fs.Path;
import org.apache.hadoop.fs.permission.FsPermission;
import org.apache.hadoop.util.Progressable;

/** A file system with one file in memory, for the ORC library to write. */
final class MemoryFiles extends FileSystem {

  static final Path PATH = new Path("/made.orc");

  private final ByteArrayOutputStream content = new ByteArrayOutputStream();

  MemoryFiles() {
    setConf(new Configuration(false));
  }

  byte[] bytes() {
    return content.toByteArray();
  }

  @Override
  public FSDataOutputStream create(
      Path path,
      FsPermission permission,
      boolean overwrite,
      int bufferSize,
      short replication,
      long blockSize,
      Progressable progress)
      throws java.io.IOException {
    return new FSDataOutputStream(content, null);
  }

  @Override
  public URI getUri() {
    return URI.create("memory:///");
  }

  @Override
  public FSDataInputStream open(Path path, int bufferSize) {
    throw new UnsupportedOperationException();
  }

  @Override
  public FSDataOutputStream append(Path path, int bufferSize, Progressable progress) {
    throw new UnsupportedOperationException();
  }

  @Override
  public boolean rename(Path from, Path to) {
    throw new UnsupportedOperationException();
  }

  @Override
  public boolean delete(Path path, boolean recursive) {
    throw new UnsupportedOperationException();
  }

  @Override
  public FileStatus[] listStatus(Path path) {
    return new FileStatus[0];
  }

  @Override
  public void setWorkingDirectory(Path path) {}

  @Override
  public Path getWorkingDirectory() {
    return new Path("/");
  }

  @Override
  public boolean mkdirs(Path path, FsPermission permission) {
    return true;
  }

  @Override
  public FileStatus getFileStatus(Path path) {
    return new FileStatus(content.size(), false, 1, 1 << 20, 0, path);
  }
}
