package dev.dusky.core.depot;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;

/** A depot that passes everything on to another one, for those that do some of it their own way. */
public abstract class ForwardingDepot implements Depot {

  /** The depot underneath. */
  protected final Depot depot;

  /** A depot around that one. */
  protected ForwardingDepot(Depot depot) {
    this.depot = depot;
  }

  @Override
  public String name() {
    return depot.name();
  }

  @Override
  public String place() {
    return depot.place();
  }

  @Override
  public Iterator<StagedFile> list(String prefix, String after) {
    return depot.list(prefix, after);
  }

  @Override
  public Optional<StagedFile> look(String path) {
    return depot.look(path);
  }

  @Override
  public InputStream open(StagedFile file) throws IOException {
    return depot.open(file);
  }

  @Override
  public byte[] bytes(StagedFile file, long position, int length) throws IOException {
    return depot.bytes(file, position, length);
  }

  @Override
  public boolean seekable(StagedFile file) {
    return depot.seekable(file);
  }

  @Override
  public StagedFile put(String path, Path local, Uplink uplink) {
    return depot.put(path, local, uplink);
  }

  @Override
  public List<StaleUpload> unfinished() {
    return depot.unfinished();
  }

  @Override
  public void drop(StaleUpload upload) {
    depot.drop(upload);
  }

  @Override
  public boolean same(StagedFile staged, Path local) {
    return depot.same(staged, local);
  }

  @Override
  public void remove(String path) {
    depot.remove(path);
  }

  @Override
  public void remove(StagedFile file) {
    depot.remove(file);
  }

  @Override
  public boolean move(StagedFile file, String path) {
    return depot.move(file, path);
  }

  @Override
  public List<ProbeStep> probe() {
    return depot.probe();
  }

  @Override
  public List<ProbeStep> probeStoring() {
    return depot.probeStoring();
  }

  /** Leaves the depot underneath open, which others may use too. */
  @Override
  public void close() {}
}
