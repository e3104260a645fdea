package dev.dusky.core.drift;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.drift.Drift.Action;
import dev.dusky.core.drift.Drift.Change;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.DriftPolicy.Fields;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FeedPolicies;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FilePattern;
import dev.dusky.core.feed.GrownColumn;
import dev.dusky.core.layout.ColumnarLayout;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.table.TableName;
import dev.dusky.core.type.SqlType;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class FileShapeTest {

  private static final Layout CSV = DelimitedLayout.plain("csv");
  private static final Layout PARQUET =
      new ColumnarLayout("p", ColumnarLayout.Format.PARQUET, List.of(), 1 << 20);

  private static FeedColumn column(String name, String type, boolean notNull) {
    return FeedColumn.plain(name, SqlType.parse(type).orElseThrow(), notNull);
  }

  private static Feed feed(
      Layout layout, Fields fields, List<String> ignore, FeedColumn... columns) {
    return new Feed(
        "f",
        "yard",
        FilePattern.of("*"),
        layout,
        new TableName("a", "b"),
        false,
        List.of(columns),
        Optional.empty(),
        ignore,
        FeedPolicies.DEFAULT.withDrift(DriftPolicy.of(fields)));
  }

  private static Feed milk(Fields fields) {
    return feed(
        CSV,
        fields,
        List.of("remark", "5"),
        column("no", "bigint", true),
        column("litres", "decimal(9,1)", false));
  }

  private static List<String> told(FileShape shape) {
    return shape.drifts().stream()
        .map(d -> d.change() + " " + d.field() + " " + d.action())
        .toList();
  }

  private static FileShape shape(Feed feed, String... names) {
    return FileShape.of(feed, List.of(), "x", List.of(names));
  }

  @Test
  void whatIsAsDeclaredOrIgnoredIsNoDrift() {
    FileShape shape = shape(milk(Fields.REFUSE), "Litres", "Remark", "no");
    assertEquals(List.of(), shape.drifts());
    assertTrue(shape.refusal().isEmpty());
    assertEquals(
        List.of(), told(shape(milk(Fields.REFUSE), "no", "litres", "remark", "REMARK", "fifth")));
    assertEquals(
        List.of("NEW LITRES IGNORED"),
        told(shape(milk(Fields.IGNORE), "no", "LITRES", "litres")),
        "a second one that differs in case is another one");
  }

  @Test
  void unknownFieldsAreExtrasWhereTheyAreOfInterest() {
    for (Fields fields : List.of(Fields.CAPTURE, Fields.EXTEND)) {
      FileShape shape = shape(milk(fields), "no", "litres", "note", "who");
      assertEquals(
          List.of("note", "who"), shape.feed().extras().stream().map(FeedColumn::name).toList());
      assertEquals(List.of(), shape.drifts(), "their values tell");
    }
    FileShape ignored = shape(milk(Fields.IGNORE), "no", "litres", "note");
    assertEquals(List.of(), ignored.feed().extras());
    assertEquals(List.of("NEW note IGNORED"), told(ignored));
    FileShape refused = shape(milk(Fields.REFUSE), "no", "litres", "note");
    assertEquals(List.of("NEW note REFUSED"), told(refused));
    assertTrue(refused.refusal().orElseThrow().getMessage().contains("note is new"));
  }

  @Test
  void missingFieldsAreAbsentWhereTheyMayBe() {
    FileShape shape = shape(milk(Fields.CAPTURE), "no", "liters");
    assertEquals(List.of("MISSING litres NULL"), told(shape));
    assertTrue(shape.drifts().get(0).remark().contains("give column litres from: liters"));
    assertEquals(new FieldSource.Absent(), shape.feed().column("litres").orElseThrow().from());
    FileShape needed = shape(milk(Fields.IGNORE), "litres", "liters");
    assertEquals(List.of("MISSING no REFUSED", "NEW liters IGNORED"), told(needed));
    assertTrue(needed.refusal().isPresent());
    assertTrue(shape(milk(Fields.REFUSE), "no").refusal().isPresent(), "refuse means any drift");
  }

  @Test
  void aColumnThatAnotherFileBroughtNeedNotBeThere() {
    Feed grown =
        milk(Fields.REFUSE)
            .grown(List.of(new GrownColumn("note", "note", SqlType.parse("text").orElseThrow())));
    List<GrownColumn> brought =
        List.of(new GrownColumn("note", "note", SqlType.parse("text").orElseThrow()));
    FileShape shape = FileShape.of(grown, brought, "x", List.of("no", "litres"));
    assertEquals(List.of(), shape.drifts());
    assertTrue(shape.refusal().isEmpty());
  }

  @Test
  void aColumnThatIsDeclaredByNowWinsOverTheOneThatCame() {
    Feed declared =
        feed(
            CSV,
            Fields.EXTEND,
            List.of(),
            column("no", "bigint", true),
            column("note", "varchar(4)", false));
    SqlType wide = SqlType.parse("varchar(20)").orElseThrow();
    SqlType narrow = SqlType.parse("varchar(2)").orElseThrow();
    assertEquals(
        wide,
        declared.grown(List.of(new GrownColumn("note", "note", wide))).column("note").get().type());
    assertEquals(declared, declared.grown(List.of(new GrownColumn("note", "note", narrow))));
    assertEquals(
        declared, declared.grown(List.of(new GrownColumn("remark", "note", wide))), "same field");
  }

  @Test
  void structuresOfSchemasAreToldByTheirFirstName() {
    Feed nested =
        feed(
            PARQUET,
            Fields.CAPTURE,
            List.of(),
            column("no", "bigint", true),
            column("owner", "text", false).withFrom(new FieldSource.Named("farm.owner")));
    FileShape shape = shape(nested, "no", "farm", "grade");
    assertEquals(List.of(), shape.drifts());
    assertEquals(List.of("grade"), shape.feed().extras().stream().map(FeedColumn::name).toList());
  }

  @Test
  void aFileOfAnotherFeedIsLeftToItsReading() {
    assertEquals(List.of(), shape(milk(Fields.CAPTURE), "quite", "different").drifts());
  }

  @Test
  void namesThatLookAlikeAreFoundAndOthersAreNot() {
    List<String> there = List.of("farm_code", "Volume (l)", "temperature");
    assertEquals(Optional.of("farm_code"), LikeNames.of("FarmCode", there));
    assertEquals(Optional.of("temperature"), LikeNames.of("temprature", there));
    assertEquals(Optional.of("temperature"), LikeNames.of("temperature_c", there));
    assertEquals(Optional.empty(), LikeNames.of("litres", there));
    assertEquals(Optional.empty(), LikeNames.of("t", there));
  }

  @Test
  void aDriftIsToldInASentence() {
    Drift drift =
        new Drift("note", Change.NEW, "text", Action.CAPTURED, 1, "x", Optional.empty(), "mind it");
    assertEquals(
        "new field note (text): captured, 1 record, for example 'x'; mind it", drift.toString());
    assertEquals(
        "field no missing: taken as null, 2 records",
        Drift.of("no", Change.MISSING, Action.NULL, "").in(2).toString());
  }
}
