package dev.dusky.core.depot;

import dev.dusky.core.bytes.BulkStream;
import dev.dusky.core.bytes.ContentLimits;
import dev.dusky.core.bytes.RandomContent;
import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.zip.CRC32;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipFile;

/**
 * A depot in which the members of zip archives are their own files: {@code
 * drops/day.zip!/farms.csv}. An archive that cannot be opened stays one file, whose opening says
 * why.
 */
public final class ArchiveDepot extends ForwardingDepot {

  /** Stands between an archive's path and a member's name. */
  public static final String INSIDE = "!/";

  private static final int MOST_MEMBERS = 100_000;

  private final ContentLimits limits;
  private final Map<String, String> unreadable = new HashMap<>();

  /** The same depot with archives opened up. */
  public ArchiveDepot(Depot depot, ContentLimits limits) {
    super(depot);
    this.limits = limits;
  }

  private static boolean isArchive(String path) {
    return path.toLowerCase(Locale.ROOT).endsWith(".zip");
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    Iterator<StagedFile> files = depot.list(prefix, after);
    return new Iterator<>() {
      private Iterator<StagedFile> members = Collections.emptyIterator();

      @Override
      public boolean hasNext() {
        while (!members.hasNext() && files.hasNext()) {
          StagedFile file = files.next();
          members = isArchive(file.path()) ? members(file).iterator() : List.of(file).iterator();
        }
        return members.hasNext();
      }

      @Override
      public StagedFile next() {
        hasNext();
        return members.next();
      }
    };
  }

  private List<StagedFile> members(StagedFile archive) {
    try (ZipFile zip = zip(archive)) {
      List<StagedFile> members = new ArrayList<>();
      Set<String> names = new HashSet<>();
      List<ZipArchiveEntry> entries = Collections.list(zip.getEntries());
      ArchiveEnd.of(new StagedContent(depot, archive)).check(entries.size());
      for (ZipArchiveEntry entry : entries) {
        if (entry.isDirectory()) {
          continue;
        }
        if (!names.add(entry.getName())) {
          throw new IOException("it has two members named '" + entry.getName() + "'");
        }
        if (names.size() > MOST_MEMBERS) {
          throw new IOException("it has more than %,d members".formatted(MOST_MEMBERS));
        }
        members.add(member(archive, entry));
      }
      members.sort(Comparator.comparing(StagedFile::path));
      unreadable.remove(archive.path());
      return members;
    } catch (IOException | RuntimeException e) {
      for (Throwable cause = e; cause != null; cause = cause.getCause()) {
        if (cause instanceof Failure failure) {
          throw failure;
        }
        if (cause instanceof dev.dusky.core.bytes.StorageException) {
          throw Failure.depot("Listing the members of " + archive.path() + " failed")
              .because(String.valueOf(e.getMessage()))
              .from(e);
        }
      }
      unreadable.put(archive.path(), String.valueOf(e.getMessage()));
      return List.of(archive);
    }
  }

  private static StagedFile member(StagedFile archive, ZipArchiveEntry entry) {
    return new StagedFile(
        archive.path() + INSIDE + entry.getName(),
        entry.getSize(),
        "%s.%08x".formatted(archive.mark(), entry.getCrc()),
        archive.modified());
  }

  private ZipFile zip(StagedFile archive) throws IOException {
    return ZipFile.builder()
        .setSeekableByteChannel(new ContentChannel(new StagedContent(depot, archive)))
        .get();
  }

  /** Where in a path an archive's own path ends; -1 if it names no member of an archive. */
  private static int inside(String path) {
    for (int at = path.indexOf(INSIDE); at >= 0; at = path.indexOf(INSIDE, at + 1)) {
      if (isArchive(path.substring(0, at))) {
        return at;
      }
    }
    return -1;
  }

  /** Whether a path is that of an archive's member. */
  public static boolean isMember(String path) {
    return inside(path) >= 0;
  }

  @Override
  public Optional<StagedFile> look(String path) {
    int inside = inside(path);
    Optional<StagedFile> archive =
        inside < 0 ? Optional.empty() : depot.look(path.substring(0, inside));
    return archive
        .flatMap(found -> members(found).stream().filter(m -> m.path().equals(path)).findFirst())
        .or(() -> depot.look(path));
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    int inside = inside(file.path());
    if (inside < 0) {
      String why = unreadable.get(file.path());
      if (why != null) {
        throw Failure.file(file.path() + " cannot be opened as a zip archive")
            .because(why)
            .hint("Nothing of it was loaded. Stage the file again, then load again");
      }
      return depot.open(file);
    }
    String path = file.path().substring(0, inside);
    String name = file.path().substring(inside + INSIDE.length());
    Optional<StagedFile> archive =
        depot.look(path).filter(found -> file.mark().startsWith(found.mark() + "."));
    if (archive.isEmpty()) {
      // It may be a file whose own path looks like a member's.
      Optional<StagedFile> own =
          depot.look(file.path()).filter(found -> found.version().equals(file.version()));
      if (own.isPresent()) {
        return depot.open(file);
      }
      throw Failure.depot(path + " changed since it was listed in depot " + name())
          .hint("Nothing of it was loaded. Load again");
    }
    refuseUnsafe(file.path(), name);
    ZipFile zip = opened(file.path(), archive.get());
    try {
      ZipArchiveEntry entry = zip.getEntry(name);
      if (entry.getGeneralPurposeBit().usesEncryption()) {
        throw Failure.file(file.path() + " is protected by a password")
            .because("the archive's directory says that this member is encrypted")
            .hint("Ask the sender for an archive without a password");
      }
      if (!zip.canReadEntryData(entry)) {
        throw Failure.file(file.path() + " cannot be decompressed")
            .because("zip method %d is not supported".formatted(entry.getMethod()))
            .hint("Ask the sender for an archive with deflate");
      }
      return new MemberStream(file.path(), zip, zip.getInputStream(entry), entry);
    } catch (Throwable e) { // the library's exceptions for damaged members are of many kinds
      zip.close();
      throw damaged(file.path(), e);
    }
  }

  private ZipFile opened(String path, StagedFile archive) throws IOException {
    try {
      return zip(archive);
    } catch (IOException | RuntimeException e) {
      throw damaged(path, e);
    }
  }

  /** A fault of a member is reported for that member only; failures of the storage pass. */
  private static RuntimeException damaged(String path, Throwable e) throws IOException {
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof dev.dusky.core.bytes.StorageException storage) {
        throw storage;
      }
      if (cause instanceof Failure failure) {
        return failure;
      }
    }
    if (e instanceof LinkageError error) {
      throw error;
    }
    return Failure.file(path + " is cut or damaged")
        .because("its zip data cannot be decompressed: " + e.getMessage())
        .hint("Nothing of it was loaded. Stage the archive again, then load again")
        .from(e);
  }

  /** A name that would lead out of any folder is refused, wherever it would lead. */
  private static void refuseUnsafe(String path, String name) {
    boolean unsafe =
        name.startsWith("/")
            || name.contains("\\")
            || name.matches("[A-Za-z]:.*")
            || List.of(name.split("/")).contains("..")
            || name.chars().anyMatch(c -> c < 0x20);
    if (unsafe) {
      throw Failure.file(path + " has an unsafe name")
          .because("a member's name must be a plain path below the archive")
          .hint("Ask the sender where the archive comes from; nothing of this member was read");
    }
  }

  /** A member's bytes, bounded by the ratio limit, its archive closed with it. */
  private final class MemberStream extends BulkStream {
    private final String path;
    private final ZipFile zip;
    private final InputStream in;
    private final long most;
    private final CRC32 checksum = new CRC32();
    private final long crc;
    private long count;

    MemberStream(String path, ZipFile zip, InputStream in, ZipArchiveEntry entry) {
      this.path = path;
      this.zip = zip;
      this.in = in;
      this.crc = entry.getCrc();
      this.most = Math.max(limits.freeBytes(), entry.getCompressedSize() * limits.ratio());
    }

    @Override
    public int read(byte[] buffer, int offset, int length) throws IOException {
      int read;
      try {
        read = in.read(buffer, offset, length);
      } catch (IOException | RuntimeException e) {
        throw damaged(path, e);
      }
      if (read < 0 && checksum.getValue() != crc) {
        throw Failure.file(path + " is cut or damaged")
            .because("its checksum is not the one in the archive's directory")
            .hint("Nothing of it was loaded. Stage the archive again, then load again");
      }
      if (read > 0) {
        checksum.update(buffer, offset, read);
      }
      count += Math.max(0, read);
      if (count > most) {
        throw Failure.file(path + " exceeds the decompression ratio limit")
            .because("it gave more than %,d bytes".formatted(most))
            .hint("If the file is sound, raise limits: ratio in the configuration");
      }
      return read;
    }

    @Override
    public void close() throws IOException {
      in.close();
      zip.close();
    }
  }

  /** Content as the channel that the zip library reads. */
  private static final class ContentChannel extends ReadChannel {
    private final RandomContent content;

    ContentChannel(RandomContent content) {
      this.content = content;
    }

    @Override
    public int read(ByteBuffer to) throws IOException {
      if (!to.hasRemaining()) {
        return 0;
      }
      byte[] bytes = new byte[Math.min(to.remaining(), 128 << 10)];
      int read = content.read(at, bytes, 0, bytes.length);
      if (read <= 0) {
        return -1;
      }
      to.put(bytes, 0, read);
      at += read;
      return read;
    }

    @Override
    public long size() {
      return content.size();
    }
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) throws IOException {
    if (isMember(file.path())) {
      throw new UnsupportedOperationException("members of archives are read from their beginning");
    }
    return depot.bytes(file, position, length);
  }

  @Override
  public boolean seekable(StagedFile file) {
    return !isMember(file.path());
  }
}
