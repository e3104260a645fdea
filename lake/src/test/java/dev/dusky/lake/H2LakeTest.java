package dev.dusky.lake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.ledger.Promoted;
import dev.dusky.core.tables.TableFit;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.testkit.FeedBuilder;
import dev.dusky.testkit.MemoryDepot;
import dev.dusky.warehouses.connection.Database;
import dev.dusky.warehouses.h2.BatchWriting;
import dev.dusky.warehouses.h2.H2Dialect;
import dev.dusky.warehouses.landed.JdbcPromotions;
import dev.dusky.warehouses.posting.JdbcTables;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import org.apache.iceberg.data.Record;
import org.apache.iceberg.types.Types;
import org.junit.jupiter.api.Test;

class H2LakeTest extends LakeContract {

  @Override
  DatabaseSettings address() {
    return new DatabaseSettings(
        "jdbc:h2:mem:" + getClass().getSimpleName() + folder.getFileName() + ";DB_CLOSE_DELAY=-1",
        Optional.of("sa"),
        Optional.empty());
  }

  @Override
  Database open(DatabaseSettings settings) {
    return new Database(settings, new H2Dialect());
  }

  @Override
  JdbcTables ledgerTables(Database of) {
    return new JdbcTables(of, new BatchWriting());
  }

  private static Feed cows(NestedForm.Member... members) {
    return new FeedBuilder("captured")
        .layout(JsonLayout.plain("lines"))
        .column("id", "bigint")
        .column("cow", SqlType.nested(new NestedForm.Members(List.of(members), false)))
        .drift(DriftPolicy.of(DriftPolicy.Fields.CAPTURE))
        .build();
  }

  private static NestedForm.Member member(String name, String type) {
    return new NestedForm.Member(
        name, new NestedForm.Part(SqlType.parse(type).orElseThrow(), false));
  }

  @Test
  void aCapturedNestedValueMovesIntoItsColumnOnceTheTableHoldsIt() throws Exception {
    Feed feed = cows(member("no", "integer"));
    String values =
        "{\"id\":1,\"cow\":{\"no\":7}}\n{\"id\":2,\"cow\":{\"no\":8,\"name\":\"Ada\"}}\n";
    load(feed, new MemoryDepot().with("a.json", values), files);
    assertEquals("{\"cow\":{\"no\":8,\"name\":\"Ada\"}}", field(feed, 2, "leftovers"));
    Failure early = assertThrows(Failure.class, () -> promote(feed));
    assertTrue(early.getMessage().contains("{\"no\":8,\"name\":\"Ada\"}"), early.getMessage());
    asOthersSee(feed.into())
        .updateSchema()
        .addColumn("cow", "name", Types.StringType.get(), "varchar(9)")
        .commit();
    Feed named = cows(member("name", "varchar(9)"), member("no", "integer"));
    assertEquals(
        List.of(), TableFit.problems(named, tables(files).shape(named.into()).orElseThrow()));
    assertEquals(1, promote(named).rows());
    assertEquals(null, field(named, 2, "leftovers"));
    Record cow = (Record) field(named, 2, "cow");
    assertEquals(8, cow.getField("no"));
    assertEquals("Ada", cow.getField("name"));
    assertEquals(7, ((Record) field(named, 1, "cow")).getField("no"));
  }

  private Promoted promote(Feed feed) {
    return new JdbcPromotions(
            database,
            ledger,
            tables(files),
            new LakeLeftoverRows(catalog(files), new LakeFailures(database)))
        .promote(start(feed), feed, "cow", Optional.empty(), Optional.empty());
  }

  private Object field(Feed feed, long id, String column) throws IOException {
    return rows(feed.into()).stream()
        .filter(row -> row.getField("id").equals(id))
        .findFirst()
        .orElseThrow()
        .getField(column);
  }
}
