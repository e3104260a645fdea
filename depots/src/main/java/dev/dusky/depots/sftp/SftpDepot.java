package dev.dusky.depots.sftp;

import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.folders.ReadOnlyDepot;
import dev.dusky.depots.transfer.ResumingStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClient.Attributes;
import org.apache.sshd.sftp.common.SftpConstants;
import org.apache.sshd.sftp.common.SftpException;

/** A folder of an SFTP server, which is only read. */
public final class SftpDepot extends ReadOnlyDepot {

  private final SftpAddress sftp;
  private final SftpSessions sessions;

  /** A depot at an address that begins with {@code sftp://}. */
  public SftpDepot(DepotAddress address) {
    super(address);
    this.sftp = SftpAddress.of(address);
    this.sessions = new SftpSessions(address, sftp);
  }

  /** Work with the server. */
  @FunctionalInterface
  interface Work<T> {
    T with(SftpClient client) throws IOException;
  }

  private <T> T call(String doing, Work<T> work) {
    try {
      return sessions.with(work);
    } catch (IOException e) {
      throw failure(doing, e);
    } catch (UncheckedIOException e) {
      throw failure(doing, e.getCause());
    }
  }

  private Failure failure(String doing, IOException e) {
    Failure failure = Failure.depot(doing + " in depot " + name() + " failed").from(e);
    int status = e instanceof SftpException answer ? answer.getStatus() : -1;
    if (status == SftpConstants.SSH_FX_PERMISSION_DENIED) {
      return failure
          .because("the server denies the right: " + e.getMessage())
          .hint("Ask the server's owner for the right to read there");
    }
    if (status == SftpConstants.SSH_FX_NO_SUCH_FILE) {
      return failure
          .because("it does not exist at " + sftp.root())
          .hint("Correct at: of the depot, or the name of the file");
    }
    return failure.because(String.valueOf(e.getMessage())).hint("Run again");
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    return call(
        "Listing",
        client ->
            new SftpListing(
                sftp,
                prefix,
                after,
                folder -> call("Listing " + folder, c -> SftpListing.names(c, folder)),
                path -> look(path).orElse(null)));
  }

  @Override
  public Optional<StagedFile> look(String path) {
    return call(
        "Looking at " + path,
        client -> {
          try {
            Attributes found = client.stat(sftp.of(path));
            return found.isRegularFile() ? Optional.of(staged(path, found)) : Optional.empty();
          } catch (SftpException e) {
            if (e.getStatus() == SftpConstants.SSH_FX_NO_SUCH_FILE
                || e.getStatus() == SftpConstants.SSH_FX_NO_SUCH_PATH) {
              return Optional.empty();
            }
            throw e;
          }
        });
  }

  static StagedFile staged(String path, Attributes found) {
    return new StagedFile(
        path,
        found.getSize(),
        found.getModifyTime().toInstant().toString(),
        found.getModifyTime().toInstant());
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    unchanged(file);
    return new ResumingStream(file.path(), file.size(), from -> openAt(file, from));
  }

  private void unchanged(StagedFile file) {
    if (!look(file.path()).map(StagedFile::version).equals(Optional.of(file.version()))) {
      throw Failure.depot("Reading " + file.path() + " in depot " + name() + " stopped")
          .because("the file changed since it was listed")
          .hint("Nothing of it was used. Run again");
    }
  }

  private ResumingStream.Source openAt(StagedFile file, long from) {
    return call(
        "Reading " + file.path(),
        any -> {
          SftpStream in = new SftpStream(sessions.open(), sftp.of(file.path()), from, file.size());
          return new ResumingStream.Source(in.then(() -> unchanged(file)), in::abandon);
        });
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) throws IOException {
    unchanged(file);
    return call(
        "Reading " + file.path(),
        client -> {
          try (SftpClient.CloseableHandle handle =
              client.open(sftp.of(file.path()), SftpClient.OpenMode.Read)) {
            int wanted = (int) Math.min(length, file.size() - position);
            byte[] bytes = new byte[Math.max(0, wanted)];
            for (int got = 0; got < bytes.length; ) {
              int n = client.read(handle, position + got, bytes, got, bytes.length - got);
              if (n <= 0) {
                throw new StorageException(
                    "%s ended after %,d of %,d bytes"
                        .formatted(file.path(), position + got, file.size()),
                    null);
              }
              got += n;
            }
            return bytes;
          }
        });
  }

  @Override
  public List<ProbeStep> probe() {
    return List.of(
        new ProbeStep(
            "connect",
            () -> ProbeStep.Finding.passed(call("Connecting", client -> sessions.words()))));
  }

  @Override
  public void close() {
    sessions.close();
  }
}
