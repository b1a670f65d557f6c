using System.Text.RegularExpressions;
using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.Tests;

/// <summary>Arrows point one way: Web to Workshop to Core.</summary>
public sealed partial class ArchitectureTests
{
    private static readonly Architecture Zenrik = new ArchLoader()
        .LoadAssemblies(typeof(ServiceMap).Assembly, typeof(WorkshopDb).Assembly, typeof(Program).Assembly)
        .Build();

    [Fact]
    public void Core_knows_no_database_no_web_and_no_clock() =>
        ShouldNotUse(
            "Zenrik.Core",
            "Zenrik.Workshop",
            "Zenrik.Web",
            "Microsoft.EntityFrameworkCore",
            "Microsoft.AspNetCore",
            "Npgsql",
            "System.Net",
            "System.TimeProvider"
        );

    [Fact]
    public void The_product_knows_no_demo() => ShouldNotUse("Zenrik", "Zenrik.Demo");

    [Fact]
    public void The_workshop_knows_no_pages() =>
        ShouldNotUse("Zenrik.Workshop", "Zenrik.Web", "Microsoft.AspNetCore.Mvc", "Microsoft.AspNetCore.Http");

    [Theory]
    [InlineData("Zenrik.Web.Rooms")]
    [InlineData("Zenrik.Web.Drawing")]
    [InlineData("Zenrik.Web.Api")]
    public void Pages_drawings_and_the_API_ask_use_cases_and_not_the_database(string of) =>
        ShouldNotUse(of, "Microsoft.EntityFrameworkCore", "Npgsql");

    /// <summary>The connection strings are checked at the start, and the driver gives its own measures.</summary>
    [Fact]
    public void Hosting_knows_the_database_by_its_address_alone() =>
        Using("Zenrik.Web.Hosting", "Microsoft.EntityFrameworkCore", "Npgsql")
            .Select(name => name.Split('+', '/')[0])
            .Distinct()
            .ShouldBe(["Zenrik.Web.Hosting.Connections", "Zenrik.Web.Hosting.Telemetry"], ignoreOrder: true);

    /// <summary>
    /// The capabilities of the workshop, lower ones first: none refers to one above it, so there is no circle. What several
    /// need is a query on the book or a rule in Core. docs/architecture.md draws this list.
    /// </summary>
    private static readonly string[] Capabilities =
    [
        "Book",
        "Shipped",
        "Photographs",
        "Mailing",
        "People",
        "HouseRules",
        "MapMaking",
        "ServiceMaps",
        "Teardown",
        "Parts",
        "Stock",
        "Fleet",
        "Fit",
        "BenchLedger",
        "Repairs",
        "Sourcing",
        "Triage",
        "Reliability",
        "Batteries",
        "Economics",
        "Practice",
        "Scheduling",
        "Importing",
        "Exporting",
        "Preparing",
        "Operating",
    ];

    [Fact]
    public void No_capability_refers_to_one_above_it() =>
        Capabilities
            .SelectMany(
                (low, i) =>
                    Using($"Zenrik.Workshop.{low}", [.. Capabilities[(i + 1)..].Select(c => $"Zenrik.Workshop.{c}")])
            )
            .ShouldBeEmpty();

    [Fact]
    public void Every_folder_of_the_workshop_has_its_place_in_that_order() =>
        Zenrik
            .Types.Select(t => t.Namespace?.FullName ?? "")
            .Where(n => n.StartsWith("Zenrik.Workshop.", StringComparison.Ordinal))
            .Select(n => n.Split('.')[2])
            .Where(n => n is not ("Migrations" or "Tests"))
            .Distinct()
            .ShouldBe(Capabilities, ignoreOrder: true);

    [Fact]
    public void Nothing_begins_a_transaction_but_the_one_way_to_write_and_reads_that_need_a_snapshot() =>
        Using("Zenrik.Workshop", "Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction")
            .Select(name => name.Split('+', '/')[0])
            .Distinct()
            .ShouldBe(
                [
                    "Zenrik.Workshop.Book.Writing",
                    "Zenrik.Workshop.Fleet.ListUnits",
                    "Zenrik.Workshop.Stock.CountBin",
                    "Zenrik.Workshop.Exporting.GiveOutEverything",
                    // Nobody does them, so there is nobody to name in the audit trail.
                    "Zenrik.Workshop.Operating.DoChores",
                ],
                ignoreOrder: true
            );

    /// <summary>Or two that know nothing of each other wait for each other in turn, or share a number.</summary>
    [Fact]
    public void Nothing_holds_rows_or_a_turn_but_the_locks_and_what_prepares_the_tables() =>
        Directory
            .EnumerateFiles(
                Path.Combine(SourceTree.Root, "src", "Zenrik.Workshop"),
                "*.cs",
                SearchOption.AllDirectories
            )
            .Where(file => Holds().IsMatch(File.ReadAllText(file)))
            .Select(Path.GetFileName)
            // A line at the bench is one statement that holds and reads.
            .ShouldBe(["Locks.cs", "PrepareDatabase.cs", "RecordEntry.cs"], ignoreOrder: true);

    [GeneratedRegex(@"FOR (NO KEY )?(UPDATE|SHARE)\b|advisory_(xact_)?lock|LOCK TABLE")]
    private static partial Regex Holds();

    [Fact]
    public void What_is_there_is_seen() =>
        Using("Zenrik.Workshop", "Microsoft.EntityFrameworkCore").ShouldContain(typeof(WorkshopDb).FullName);

    private static void ShouldNotUse(string from, params string[] others) => Using(from, others).ShouldBeEmpty();

    /// <summary>The types of a namespace, and of what lies in it, that use something of others.</summary>
    private static IEnumerable<string> Using(string from, params string[] others) =>
        Zenrik
            .Types.Where(t => IsWithin(t.FullName, from))
            .Where(t => t.Dependencies.Any(d => Array.Exists(others, o => IsWithin(d.Target.FullName, o))))
            .Select(t => t.FullName);

    private static bool IsWithin(string name, string space) =>
        name == space || name.StartsWith($"{space}.", StringComparison.Ordinal);
}
