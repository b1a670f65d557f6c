using System.Text.RegularExpressions;

namespace Zenrik.Workshop.Tests.Operating;

/// <summary>What is packed, against what the services and the text for operators say of it.</summary>
public sealed partial class PackageTests
{
    private static readonly string Packed = Path.Combine(SourceTree.Root, "tools/publish");
    private static readonly string Command = Path.Combine(Packed, "usr/bin/zenrik");

    [Fact]
    public void What_the_services_call_and_read_is_in_the_package()
    {
        var units = Directory.GetFiles(Path.Combine(Packed, "usr/lib/systemd/system"));
        units.Length.ShouldBeGreaterThan(3);
        var named = units
            .SelectMany(u => Named().Matches(File.ReadAllText(u)).Select(m => m.Value))
            .Distinct()
            .ToList();
        named.ShouldContain("/usr/bin/zenrik");
        named.ShouldAllBe(path => File.Exists(Packed + path));
    }

    [Fact]
    public void The_installed_command_takes_what_operators_are_told_to_type()
    {
        var told = Typed()
            .Matches(File.ReadAllText(Path.Combine(SourceTree.Root, "docs/operate.md")))
            .Select(m => m.Groups[1].Value)
            .Distinct()
            .ToList();
        told.ShouldContain("backup");
        told.ShouldContain("prepare");
        var taken = Cases().Matches(File.ReadAllText(Command)).SelectMany(m => m.Groups[1].Value.Split(" | ")).ToList();
        told.Except(taken).ShouldBeEmpty();
    }

    [GeneratedRegex(@"/usr/bin/zenrik|/etc/zenrik/\w+\.conf")]
    private static partial Regex Named();

    [GeneratedRegex(@"sudo zenrik ([a-z-]+)")]
    private static partial Regex Typed();

    [GeneratedRegex(@"^  ([a-z|\- ]+)\)", RegexOptions.Multiline)]
    private static partial Regex Cases();
}
