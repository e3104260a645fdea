package dev.dusky.depots.folders;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.depot.Uplink;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.transfer.FileDigests;
import dev.dusky.depots.transfer.LocalStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.Arrays;

/** A depot that files are only read from; storing, moving and removing fail. */
public abstract class ReadOnlyDepot implements Depot {

  /** Where it is. */
  protected final DepotAddress address;

  /** A depot at that address. */
  protected ReadOnlyDepot(DepotAddress address) {
    this.address = address;
  }

  @Override
  public final String name() {
    return address.name();
  }

  @Override
  public final String place() {
    return address.toString();
  }

  private Failure readOnly(String doing) {
    return Failure.depot(doing + " in depot " + name() + " failed")
        .because("files at " + address.scheme() + ":// are only read")
        .hint("Stage them from there into a depot in a directory or an object store");
  }

  @Override
  public final StagedFile put(String path, Path local, Uplink uplink) {
    throw readOnly("Staging " + path);
  }

  @Override
  public final void remove(String path) {
    throw readOnly("Removing " + path);
  }

  @Override
  public final void remove(StagedFile file) {
    throw readOnly("Removing " + file.path());
  }

  @Override
  public final boolean move(StagedFile file, String path) {
    throw readOnly("Moving " + file.path());
  }

  @Override
  public final boolean same(StagedFile staged, Path local) {
    try {
      if (Files.size(local) != staged.size()) {
        return false;
      }
      MessageDigest there = FileDigests.digest("SHA-256");
      try (InputStream in = open(staged)) {
        byte[] buffer = new byte[64 << 10];
        for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
          there.update(buffer, 0, n);
        }
      }
      return Arrays.equals(there.digest(), FileDigests.of("SHA-256", local, 0, staged.size()));
    } catch (IOException e) {
      throw LocalStream.unreadable(local, e);
    }
  }
}
