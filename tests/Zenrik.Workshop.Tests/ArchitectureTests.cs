using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.Tests;

/// <summary>Arrows point one way: Web to Workshop to Core.</summary>
public sealed class ArchitectureTests
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
    public void The_workshop_knows_no_pages() =>
        ShouldNotUse("Zenrik.Workshop", "Zenrik.Web", "Microsoft.AspNetCore.Mvc", "Microsoft.AspNetCore.Http");

    [Theory]
    [InlineData("Zenrik.Web.Rooms")]
    [InlineData("Zenrik.Web.Drawing")]
    [InlineData("Zenrik.Web.Api")]
    public void Pages_drawings_and_the_API_ask_use_cases_and_not_the_database(string of) =>
        ShouldNotUse(of, "Microsoft.EntityFrameworkCore", "Npgsql");

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
