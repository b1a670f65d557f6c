using System.Diagnostics;
using System.Runtime.Versioning;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Workshop.Preparing;

namespace Zenrik.Workshop.Tests.Preparing;

/// <summary>The two commands as somebody runs them who looks after the program, on a database of their own.</summary>
public sealed class BackupTests(TemplateDatabase databases)
{
    [Fact]
    [SupportedOSPlatform("linux")]
    public async Task A_backup_brings_back_what_was_there_and_only_a_whole_one_is_taken()
    {
        await using var book = await databases.NewBook();
        var folder = Directory.CreateTempSubdirectory("zenrik-backup-");
        try
        {
            var file = Path.Combine(folder.FullName, "one.backup");
            (await Run("backup", file, book)).ShouldContain("restored beside and is the same");
            (await Run("backup", file, book)).ShouldContain("is there already");
            File.GetUnixFileMode(file).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
            var last = (await book.Do<ViewBeginning, Beginning>(v => v.Run())).LastBackup!;
            (last.File, last.Bytes).ShouldBe(("one.backup", new FileInfo(file).Length));

            // Something happens that is to be undone; the backup itself was noted after it was made.
            var units = await book.Ask(db => db.Units.CountAsync());
            (await book.Sql("UPDATE units SET site = 'Nowhere'")).ShouldBeNull();

            var cut = Path.Combine(folder.FullName, "cut.backup");
            var whole = await File.ReadAllBytesAsync(file, TestContext.Current.CancellationToken);
            await File.WriteAllBytesAsync(cut, whole[..(whole.Length / 2)], TestContext.Current.CancellationToken);
            (await Run("restore", cut, book)).ShouldContain("Nothing was changed");
            await File.WriteAllTextAsync(cut, "a list of spares", TestContext.Current.CancellationToken);
            (await Run("restore", cut, book)).ShouldContain("is no backup of Zenrik");
            (await Run("restore", Path.Combine(folder.FullName, "none"), book)).ShouldContain("There is no file");
            (await book.Ask(db => db.Units.AllAsync(u => u.Site == "Nowhere"))).ShouldBeTrue();

            (
                await book.Sql("INSERT INTO \"__EFMigrationsHistory\" VALUES ('20991231000000_Tomorrow', '99')")
            ).ShouldBeNull();
            var newer = Path.Combine(folder.FullName, "newer.backup");
            (await Run("backup", newer, book)).ShouldContain("is the same");
            (await Run("restore", newer, book)).ShouldContain("made by a newer version of the program");

            NpgsqlConnection.ClearAllPools();
            (await Run("restore", file, book)).ShouldContain($"{units} units");
            NpgsqlConnection.ClearAllPools();
            (await book.Ask(db => db.Units.AnyAsync(u => u.Site == "Nowhere"))).ShouldBeFalse();
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static async Task<string> Run(string command, string file, Book book)
    {
        var start = new ProcessStartInfo(
            "bash",
            ["tools/zenrik/main.sh", command, file, "--connection", book.Connection]
        )
        {
            WorkingDirectory = SourceTree.Root,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        var said = await Task.WhenAll(process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return string.Concat(said);
    }
}
