using NetArchTest.Rules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.Tests;

/// <summary>Arrows point one way: Web to Workshop to Core.</summary>
public sealed class ArchitectureTests
{
    [Fact]
    public void Core_knows_no_database_no_web_and_no_clock() =>
        ShouldNotUse(
            typeof(ServiceMap),
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
        ShouldNotUse(typeof(WorkshopDb), "Zenrik.Web", "Microsoft.AspNetCore.Mvc", "Microsoft.AspNetCore.Http");

    [Fact]
    public void Rooms_ask_use_cases_and_not_the_database()
    {
        var rooms = Types.InAssembly(typeof(Program).Assembly).That().ResideInNamespace("Zenrik.Web.Rooms");
        var result = rooms.ShouldNot().HaveDependencyOnAny("Microsoft.EntityFrameworkCore", "Npgsql").GetResult();
        result.FailingTypeNames.ShouldBeNull();
    }

    private static void ShouldNotUse(Type from, params string[] others) =>
        Types
            .InAssembly(from.Assembly)
            .ShouldNot()
            .HaveDependencyOnAny(others)
            .GetResult()
            .FailingTypeNames.ShouldBeNull();
}
