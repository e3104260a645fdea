package dev.dusky.lake;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.AdoptedRows;
import dev.dusky.core.tables.LandedPiece;
import dev.dusky.core.tables.Transaction;
import dev.dusky.lake.read.LandedFiles;
import java.util.ArrayList;
import java.util.List;
import org.apache.iceberg.ContentFileParser;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.HasTableOperations;
import org.apache.iceberg.Table;

/** Data files that the engine's machines have written, appended when their sources are posted. */
final class LakeAdoptedRows implements AdoptedRows {

  private static final JsonMapper JSON = new JsonMapper();

  private final LakeAccess access;
  private final Transaction transaction;
  private final TableName name;
  private Table table;
  private final List<DataFile> files = new ArrayList<>();

  LakeAdoptedRows(LakeAccess access, Transaction transaction, TableName name) {
    this.access = access;
    this.transaction = transaction;
    this.name = name;
    this.table = access.table(transaction, name);
  }

  @Override
  public String table() {
    return ((HasTableOperations) table).operations().current().metadataFileLocation();
  }

  @Override
  public void hold() {
    access.hold(transaction, name);
    table = access.table(transaction, name);
  }

  @Override
  public List<LandedPiece> landed() {
    return access
        .failures()
        .run("Reading the files of " + name, () -> LandedFiles.pieces(table))
        .stream()
        .map(piece -> new LandedPiece(table(), piece))
        .toList();
  }

  @Override
  public void adopt(List<String> written) {
    written.forEach(file -> files.add(read(file)));
  }

  @Override
  public void drop(List<String> written) {
    remove(written.stream().map(this::read).toList());
  }

  private DataFile read(String file) {
    try {
      return (DataFile) ContentFileParser.fromJson(JSON.readTree(file), table.specs());
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException("not a data file: " + file, e);
    }
  }

  @Override
  public void send() {
    access.append(transaction, name, files);
  }

  @Override
  public void discard() {
    remove(files);
  }

  private void remove(List<DataFile> some) {
    access
        .failures()
        .run(
            "Removing what was written of " + name,
            () -> {
              some.forEach(file -> table.io().deleteFile(file.location()));
              return null;
            });
  }
}
