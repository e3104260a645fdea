package dev.dusky.core.merge;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.table.TableName;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class MergeOrderTest {

  private static Merge merge(String name, List<String> looksInto, String... after) {
    return new Merge(
        name,
        new MergeSource.Landing(new TableName("intake", name)),
        new TableName("dairy", name),
        false,
        List.of("k"),
        List.of(),
        Map.of(),
        new ExistingPolicy.Overwrite(List.of()),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        looksInto.stream()
            .map(
                table ->
                    new Lookup(
                        table + "_id",
                        new TableName("dairy", table),
                        Map.of("k", "k"),
                        "id",
                        Optional.empty(),
                        Optional.empty(),
                        new Lookup.Unknown.Reject()))
            .toList(),
        Optional.empty(),
        List.of(),
        List.of(after));
  }

  private static Map<String, Merge> all(Merge... merges) {
    Map<String, Merge> all = new LinkedHashMap<>();
    for (Merge merge : merges) {
      all.put(merge.name(), merge);
    }
    return all;
  }

  private static List<String> order(Map<String, Merge> merges) {
    return new MergeOrder(merges).of(merges.values()).stream().map(Merge::name).toList();
  }

  @Test
  void dimensionsComeBeforeWhatLooksIntoThem() {
    Map<String, Merge> merges =
        all(
            merge("assay", List.of("farm", "laboratory")),
            merge("collection", List.of("farm", "tanker"), "assay"),
            merge("farm", List.of()),
            merge("laboratory", List.of("region")),
            merge("region", List.of()),
            merge("tanker", List.of()));
    assertEquals(
        List.of("farm", "region", "laboratory", "assay", "tanker", "collection"), order(merges));
    assertEquals(
        Set.of("assay", "farm", "tanker"), new MergeOrder(merges).before(merges.get("collection")));
    assertEquals(Optional.empty(), new MergeOrder(merges).circle());
  }

  @Test
  void theOrderDoesNotDependOnThatOfTheDeclaration() {
    assertEquals(
        order(all(merge("a", List.of("c")), merge("b", List.of()), merge("c", List.of()))),
        order(all(merge("c", List.of()), merge("b", List.of()), merge("a", List.of("c")))));
  }

  @Test
  void chosenOnesKeepTheirOrderWithoutTheOthers() {
    Map<String, Merge> merges =
        all(merge("a", List.of("b")), merge("b", List.of("c")), merge("c", List.of()));
    assertEquals(
        List.of("c", "a"),
        new MergeOrder(merges)
            .of(List.of(merges.get("a"), merges.get("c"))).stream().map(Merge::name).toList());
  }

  @Test
  void aMergeMayLookIntoItsOwnTarget() {
    assertEquals(Optional.empty(), new MergeOrder(all(merge("a", List.of("a")))).circle());
  }

  @Test
  void aCircleIsToldFromItsFirstNameToItsFirst() {
    Map<String, Merge> merges =
        all(
            merge("a", List.of("b")),
            merge("b", List.of(), "c"),
            merge("c", List.of("b")),
            merge("d", List.of()));
    assertEquals(List.of("b", "c", "b"), new MergeOrder(merges).circle().orElseThrow());
  }

  @Test
  void aTallyBalancesWhenEveryLandedRowHasOneOutcome() {
    MergeTally tally = new MergeTally(21, 1, 2, 3, 4, 5, 6, 7);
    assertTrue(tally.balanced());
    assertFalse(new MergeTally(22, 1, 2, 3, 4, 5, 6, 7).balanced());
    assertEquals(new MergeTally(42, 2, 4, 6, 8, 10, 12, 14), tally.plus(tally));
    assertFalse(tally.idle());
    assertTrue(new MergeTally(9, 0, 0, 3, 4, 0, 2, 0).idle());
    assertFalse(new MergeTally(0, 0, 0, 0, 0, 0, 0, 1).idle());
  }

  @Test
  void theColumnsThatAMergeFillsByItselfAreKnown() {
    Merge plain = merge("a", List.of("farm"));
    assertEquals(List.of("farm_id"), plain.managed());
    Merge full =
        new Merge(
            plain.name(),
            plain.source(),
            plain.into(),
            false,
            plain.key(),
            plain.latestBy(),
            plain.columns(),
            new ExistingPolicy.History("at", "since", "till", Optional.of("now"), List.of()),
            Optional.of(
                new DeleteMarker("gone", List.of("x"), GoneKeys.MARK, Optional.of("is_gone"))),
            Optional.of(
                new SnapshotPolicy(
                    GoneKeys.MARK, Optional.of("is_gone"), java.math.BigDecimal.TEN)),
            Optional.of("id"),
            Optional.of("guessed"),
            List.of(),
            Optional.empty(),
            List.of(),
            List.of());
    assertEquals(List.of("since", "till", "now", "id", "guessed", "is_gone"), full.managed());
  }
}
