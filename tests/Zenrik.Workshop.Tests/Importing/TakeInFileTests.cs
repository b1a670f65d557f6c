using System.IO.Compression;
using System.Text;
using Microsoft.EntityFrameworkCore;
using MiniExcelLibs;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Importing;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.Importing;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Tests.Importing;

/// <summary>An organisation's spreadsheets, right and wrong ones, on a real database.</summary>
public sealed class TakeInFileTests(TemplateDatabase databases)
{
    private const string Fleet = """
        Asset tag;Serial number;Make;Model;Location;Used by;Purchased
        TW-1;X100;Tarnwell;Corncrake 12;Tidewell school;Année 8;03/09/2024
        TW-2;X101;Tarnwell;Corncrake 12;Tidewell school;;25/09/2024
        TW-3;X102;Tarnwell;Dabchick 11 Chromebook;Ferry Office;P. Quill;2024-09-03
        """;

    private static byte[] Utf8(string text) => Encoding.UTF8.GetBytes(text);

    private static async Task<Guid> Kept(Book book, Actor by, string sheet, byte[] content) =>
        (await book.Do<TakeInFile, Outcome<Guid>>(f => f.Keep(sheet, "list.csv", content, by))).Value;

    private static async Task<FileView> Look(Book book, Actor by, Guid file, FateFilter filter = FateFilter.All) =>
        (await book.Do<TakeInFile, Outcome<FileView>>(f => f.Look(file, by, filter))).Value;

    private static Task<Outcome<string>> Take(Book book, Actor by, Guid file, bool goodOnly = false) =>
        book.Do<TakeInFile, Outcome<string>>(f => f.Take(Guid.NewGuid(), file, goodOnly, by));

    private static async Task<string> TakenIn(Book book, Actor by, string sheet, string text) =>
        (await Take(book, by, await Kept(book, by, sheet, Utf8(text)))).Value;

    private static async Task As(Book book, Actor by, Guid file, FileSettings settings)
    {
        var view = await Look(book, by, file);
        var columns = view
            .Headings.Index()
            .ToDictionary(h => h.Index, h => view.Columns.GetValueOrDefault(h.Index, ""));
        _ = (await book.Do<TakeInFile, Outcome<string>>(f => f.Decide(file, columns, settings, by))).Value;
    }

    [Fact]
    public async Task A_fleet_comes_in_with_its_models_once_however_often_it_is_sent()
    {
        await using var book = await databases.NewBook();
        var by = book.Lead;
        var file = await Kept(book, by, "units", Utf8(Fleet));
        var view = await Look(book, by, file);
        view.Counts[FateFilter.Refused].ShouldBe(3);
        view.Rows[0].Fate.ShouldBeOfType<RowFate.Refused>().Reason.ShouldContain("No model is called Corncrake 12");
        (await book.Ask(db => db.Units.AnyAsync(u => u.Tag == "TW-1"))).ShouldBeFalse();

        await As(book, by, file, new FileSettings(UnknownModels: DeviceClass.Laptop));
        view = await Look(book, by, file);
        view.Counts[FateFilter.New].ShouldBe(3);
        view.Rows[0].Fate.ShouldBe(new RowFate.New("and the model Tarnwell Corncrake 12 with it"));
        var request = Guid.NewGuid();
        Task<Outcome<string>> Once() => book.Do<TakeInFile, Outcome<string>>(f => f.Take(request, file, false, by));
        (await Once()).Value.ShouldBe("3 entered, 0 changed, 0 as before.");
        (await Once()).Value.ShouldBe("3 entered, 0 changed, 0 as before.");
        (await Take(book, by, file)).Refusal!.Message.ShouldContain("has been taken in");
        var unit = await book.Ask(db => db.Units.Include(u => u.Model).SingleAsync(u => u.Tag == "TW-1"));
        (unit.Serial, unit.Model.Maker, unit.Site, unit.UserName, unit.BoughtOn).ShouldBe(
            ("X100", "Tarnwell", "Tidewell school", "Année 8", new DateOnly(2024, 9, 3))
        );
        (await book.Ask(db => db.UnitEvents.CountAsync(e => e.UnitId == unit.Id))).ShouldBe(1);
        (await book.Ask(db => db.AuditLines.AnyAsync(l => l.Act == "TakeInFile.Take"))).ShouldBeTrue();

        // The same list again, in the encoding of old spreadsheets, with one site otherwise.
        var old = CodePagesEncodingProvider
            .Instance.GetEncoding(1252)!
            .GetBytes(Fleet.Replace("Ferry Office", "Harbour Hall", StringComparison.Ordinal));
        file = await Kept(book, by, "units", old);
        view = await Look(book, by, file, FateFilter.Changed);
        (view.Counts[FateFilter.Same], view.Counts[FateFilter.Changed]).ShouldBe((2, 1));
        view.Rows.ShouldHaveSingleItem()
            .Fate.ShouldBeOfType<RowFate.Changed>()
            .Changes.ShouldBe([new FactChange("site", "Ferry Office", "Harbour Hall")]);
        (await Take(book, by, file)).Value.ShouldBe("0 entered, 1 changed, 2 as before.");
        var moved = await book.Ask(db =>
            db.UnitEvents.OrderByDescending(e => e.Id).Select(e => new { e.Kind, e.Text }).FirstAsync()
        );
        (moved.Kind, moved.Text).ShouldBe((UnitEventKind.Moved, "From Ferry Office to Harbour Hall"));
    }

    [Fact]
    public async Task Rows_that_cannot_be_taken_stop_the_whole_or_are_left_out()
    {
        await using var book = await databases.NewBook();
        var by = book.Lead;
        var known = await book.Ask(db => db.Units.OrderBy(u => u.Tag).Include(u => u.Model).FirstAsync());
        var text = $"""
            tag,serial,model,site,bought
            TW-1,X1,{known.Model.Name},Tidewell,2024-09-03
            TW-1,X2,{known.Model.Name},Tidewell,2024-09-03
            TW-3,{known.Serial},{known.Model.Name},Tidewell,2024-09-03
            TW-4,X4,{known.Model.Name},Tidewell,2124-09-03
            TW 5,X5,{known.Model.Name},Tidewell,2024-09-03
            TW-6,X6,{known.Model.Name},Tidewell
            """;
        var file = await Kept(book, by, "units", Utf8(text));
        var view = await Look(book, by, file, FateFilter.Refused);
        string[] reasons = [.. view.Rows.Select(r => $"{r.Line} {((RowFate.Refused)r.Fate).Reason}")];
        reasons.Length.ShouldBe(5);
        reasons[0].ShouldStartWith("3 The tag TW-1 stands in line 2");
        reasons[1].ShouldStartWith($"4 The serial {known.Serial} is that of {known.Tag}");
        reasons[2].ShouldStartWith("5 “2124-09-03” is no day");
        reasons[3].ShouldStartWith("6 A unit's tag has");
        reasons[4].ShouldStartWith("7 It has no day it was bought on");
        (await Take(book, by, file)).Refusal!.Message.ShouldContain("Nothing of the file was taken in");
        (await book.Ask(db => db.Units.AnyAsync(u => u.Tag == "TW-1"))).ShouldBeFalse();
        (await Take(book, by, file, goodOnly: true)).Value.ShouldBe("1 entered, 0 changed, 0 as before, 5 left out.");
    }

    [Fact]
    public async Task Stock_is_entered_up_to_what_the_list_says_and_the_book_stays_proved()
    {
        await using var book = await databases.NewBook();
        var by = await book.Person("odd");
        const string list = """
            bin,part no,qty,serial,what it is,kind,unit cost
            Z-01,TW-9B3K-40011,4,,fan of another maker,fan,"12,50"
            Z-01,TW-9B3K-40012,1,SN-1,drive 256 GB,drive,
            B-07,QV-100,40,,,,
            """;
        (await TakenIn(book, by, "stock", list)).ShouldBe("2 entered, 1 changed, 0 as before.");
        (await TakenIn(book, by, "stock", list)).ShouldBe("0 entered, 0 changed, 3 as before.");
        var fans = await book.Ask(db =>
            db.Items.Include(i => i.Bin).Where(i => i.Number.Number == "TW-9B3K-40011").ToListAsync()
        );
        fans.Count.ShouldBe(4);
        fans.ShouldAllBe(i => i.Bin!.Code == "Z-01" && i.Cost == 12.5m);
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));

        var less = await Kept(
            book,
            by,
            "stock",
            Utf8("bin,number,qty\nZ-01,TW-9B3K-40011,3\nQUARANTINE,TW-9B3K-40011,3\nZ-01,ZZ-1,2\n")
        );
        string[] reasons = [.. (await Look(book, by, less)).Rows.Select(r => ((RowFate.Refused)r.Fate).Reason)];
        reasons[0].ShouldContain("Count the bin");
        reasons[1].ShouldContain("not a shelf bin");
        reasons[2].ShouldContain("not known here");
    }

    [Fact]
    public async Task What_is_inside_comes_in_slot_by_slot_or_a_column_a_slot()
    {
        await using var book = await databases.NewBook();
        var by = book.Lead;
        var unit = await book.Ask(db =>
            db.Units.Where(u => u.ModelCode == "sandpiper-14" && u.State == Core.Fleet.UnitState.InUse)
                .OrderBy(u => u.Tag)
                .FirstAsync()
        );
        var wide = $"tag,battery,fan\n{unit.Tag},TW-9B3K-1,TW-9B3K-2\n";
        (await TakenIn(book, by, "inside", wide)).ShouldBe("0 entered, 1 changed, 0 as before.");
        var inside = await book.Ask(db =>
            db.Items.Where(i => i.UnitId == unit.Id && (i.Slot == "battery" || i.Slot == "fan"))
                .OrderBy(i => i.Slot)
                .Select(i => i.Number.Number)
                .ToListAsync()
        );
        inside.ShouldBe(["TW-9B3K-1", "TW-9B3K-2"]);
        var slots =
            $"tag,slot,number,serial\n{unit.Tag},battery,tw 9b3k 1,SN-7\n{unit.Tag},attic,TW-1,\nNO-1,battery,TW-1,\n";
        var file = await Kept(book, by, "inside", Utf8(slots));
        var view = await Look(book, by, file);
        view.Rows[0].Fate.ShouldBeOfType<RowFate.Changed>();
        view.Rows[1].Fate.ShouldBeOfType<RowFate.Refused>().Reason.ShouldContain("no slot “attic”");
        view.Rows[2].Fate.ShouldBeOfType<RowFate.Refused>().Reason.ShouldContain("Take the units in first");
        _ = (await Take(book, by, file, goodOnly: true)).Value;
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));
    }

    [Fact]
    public async Task Numbers_and_models_come_in_with_what_is_known_of_them()
    {
        await using var book = await databases.NewBook();
        var by = await book.Person("odd");
        const string numbers = """
            number,name,kind,model,slot,volts,unbranded
            TW-9B3K-40011,fan of another maker,fan,sandpiper-14,fan,,
            "tw 9b3k 40012",battery,battery,,,11.4,true
            """;
        (await TakenIn(book, by, "numbers", numbers)).ShouldBe("2 entered, 0 changed, 0 as before.");
        (await TakenIn(book, by, "numbers", numbers)).ShouldBe("0 entered, 0 changed, 2 as before.");
        var battery = await book.Ask(db => db.CatalogueNumbers.SingleAsync(n => n.Name == "battery"));
        battery.Specification.ShouldBe(
            new ItemSpecification.Battery
            {
                Volts = 11.4,
                Unbranded = true,
                Looks = battery.Specification!.Looks,
            }
        );
        var fan = await book.Ask(db =>
            db.CatalogueNumbers.Include(n => n.Fits).SingleAsync(n => n.Number == "TW-9B3K-40011")
        );
        fan.Fits.ShouldHaveSingleItem().ListedBy.ShouldBe(by.Name);
        var wrong = await Kept(
            book,
            by,
            "numbers",
            Utf8("number,name,kind,volts\nTW-1,b,battery,900\nTW-2,hinge,wheel,\n")
        );
        string[] reasons = [.. (await Look(book, by, wrong)).Rows.Select(r => ((RowFate.Refused)r.Fate).Reason)];
        reasons[0].ShouldContain("Say what it is");
        reasons[1].ShouldContain("“wheel” is no kind");

        const string models = "maker,model,class,price,warranty\nTarnwell,Corncrake 12,laptop,£480,36\n";
        (await TakenIn(book, by, "models", models)).ShouldBe("1 entered, 0 changed, 0 as before.");
        (await TakenIn(book, by, "models", models.Replace("480", "500", StringComparison.Ordinal))).ShouldBe(
            "0 entered, 1 changed, 0 as before."
        );
    }

    [Fact]
    public async Task People_and_price_lists_come_in()
    {
        await using var book = await databases.NewBook();
        var by = book.Lead;
        var people =
            "login;full name;role\nsol;S. Reed;technician\nmara;M. Tarn;reader\nines;I. Rook;reader\nsol;S. Two;lead\n";
        var file = await Kept(book, by, "people", Utf8(people));
        var view = await Look(book, by, file);
        view.Rows[0].Fate.ShouldBeOfType<RowFate.New>();
        view.Rows[1].Fate.ShouldBeOfType<RowFate.Refused>().Reason.ShouldContain("own role");
        view.Rows[2]
            .Fate.ShouldBeOfType<RowFate.Changed>()
            .Changes.ShouldBe([new FactChange("role", "technician", "reader")]);
        view.Rows[3].Fate.ShouldBeOfType<RowFate.Refused>().Reason.ShouldContain("line 2");
        _ = (await Take(book, by, file, goodOnly: true)).Value;
        (await book.Do<KeepPeople, IReadOnlyList<Invitation>>(p => p.Invitations()))
            .ShouldHaveSingleItem()
            .SignIn.ShouldBe("sol");

        var terms = new KeptTerms
        {
            Currency = "GBP",
            Freight = [new KeptFreight("post", 4, 1, [DayOfWeek.Monday], 2)],
        };
        _ = (await book.Do<KeepSuppliers, Outcome<Guid>>(k => k.Add("Tern & Sons", null, terms, by))).Value;
        const string prices = "supplier,part,price,moq\ntern and sons,TW-1,3\nTern & Sons,TW-5R0Q-22011,£ 61.50,2\n";
        file = await Kept(book, by, "prices", Utf8(prices));
        view = await Look(book, by, file);
        view.Rows[0].Fate.ShouldBeOfType<RowFate.Refused>().Reason.ShouldContain("No supplier is called");
        (await Take(book, by, file, goodOnly: true)).Value.ShouldBe("1 entered, 0 changed, 0 as before, 1 left out.");
        (await TakenIn(book, by, "prices", "supplier,part,price\nTern & Sons,tw 5r0q 22011,61.5\n")).ShouldBe(
            "0 entered, 0 changed, 1 as before."
        );
    }

    [Fact]
    public async Task What_comes_off_in_order_makes_a_draft_that_is_planned_by()
    {
        await using var book = await databases.NewBook();
        var by = book.Lead;
        _ = await TakenIn(book, by, "models", "maker,model,class\nTarnwell,Wren 12,laptop\n");
        const string Apart = """
            Model,What,Kind,Qty,Drive,Length,Belongs to
            Wren 12,Base screws,screws,9,PH0,M2x5,
            Wren 12,Base cover,cover,,,,
            Wren 12,Battery plug,battery plug,,,,Battery
            Wren 12,Battery screws,screws,4,PH00,3.5,
            Wren 12,Battery,exchanged part,,,,
            Wren 12,Fan screws,screws,,PH00,,
            Wren 12,Foil,tape,,,,Lid
            Sandpiper 14,Base cover,part,,,,
            Grebe 17,Base cover,part,,,,
            """;
        var file = await Kept(book, by, "teardown", Utf8(Apart));
        string[] reasons =
        [
            .. (await Look(book, by, file, FateFilter.Refused)).Rows.Select(r => ((RowFate.Refused)r.Fate).Reason),
        ];
        reasons[0].ShouldBe("It is not said how many screws there are.");
        reasons[1].ShouldStartWith("There is no part Lid");
        reasons[2].ShouldStartWith("The map of the Sandpiper 14 was not made here");
        reasons[3].ShouldStartWith("No model is called Grebe 17");
        (await Take(book, by, file)).Refusal!.Message.ShouldContain("Nothing of the file was taken in");
        (await Take(book, by, file, goodOnly: true)).Value.ShouldBe("5 entered, 0 changed, 0 as before, 4 left out.");

        var code = await book.Ask(db => db.Models.Where(m => m.Name == "Wren 12").Select(m => m.Code).SingleAsync());
        var plan = await book.Do<PlanFor, Outcome<Core.Teardown.Plan>>(async p =>
            await p.Of((await book.Ask(db => db.MapNow(code, default)))!, [new Goal.Replace(AssemblyId.Of("battery"))])
        );
        plan.Value.Acts.Count(a => a.Kind == ActKind.Undo).ShouldBe(2);

        // What is given out again is as before, in any order that is possible; another count is a change.
        using var csv = new MemoryStream();
        _ = await book.Do<GiveOutLists, int>(g =>
        {
            var list = g.Find("teardown")!;
            return CsvOut.Write(csv, list.Headings, list.Rows);
        });
        var again = Encoding.UTF8.GetString(csv.ToArray());
        (await TakenIn(book, by, "teardown", again)).ShouldBe("0 entered, 0 changed, 5 as before.");
        (await TakenIn(book, by, "teardown", again.Replace(",9,PH0", ",8,PH0", StringComparison.Ordinal))).ShouldBe(
            "0 entered, 1 changed, 4 as before."
        );
        var map = await book.Ask(db => db.MapNow(code, default));
        map!.Fasteners.Single(f => f.Name == "Base screws").Count.ShouldBe(8);

        // A wrong list is taken back as anything else that was said.
        var lists = await book.Ask(db =>
            db.DraftSteps.Where(s => s.ModelCode == code).OrderBy(s => s.Version).Select(s => s.Version).ToListAsync()
        );
        foreach (var version in lists)
        {
            _ = (await book.Do<SayOfModel, Outcome<string>>(s => s.TakeBack(Guid.NewGuid(), code, version, by))).Value;
        }

        (await book.Ask(db => db.MapNow(code, default))).ShouldBeNull();
    }

    /// <summary>What is given out can be taken in again and changes nothing: both ways agree on every list.</summary>
    [Theory]
    [InlineData("models")]
    [InlineData("units")]
    [InlineData("inside")]
    [InlineData("numbers")]
    [InlineData("stock")]
    public async Task What_was_given_out_is_taken_in_again_as_before(string id)
    {
        await using var book = await databases.NewBook();
        using var csv = new MemoryStream();
        var rows = await book.Do<GiveOutLists, int>(g =>
        {
            var list = g.Find(id)!;
            return CsvOut.Write(csv, list.Headings, list.Rows);
        });
        rows.ShouldBeGreaterThan(3);
        var view = await Look(book, book.Lead, await Kept(book, book.Lead, id, csv.ToArray()), FateFilter.All);
        view.Stopped.ShouldBeNull();
        // A machine on the bench is read there, which is said of its rows and is no difference.
        view.Counts[FateFilter.New].ShouldBe(0);
        view.Counts[FateFilter.Changed]
            .ShouldBe(
                0,
                string.Join("; ", view.Rows.Select(r => r.Fate).OfType<RowFate.Changed>().SelectMany(c => c.Changes))
            );
        view.Counts[FateFilter.Same].ShouldBeGreaterThan(rows * 9 / 10);
    }

    [Fact]
    public async Task A_spreadsheet_is_read_with_its_days_and_numbers()
    {
        await using var book = await databases.NewBook();
        var by = book.Lead;
        using var sheet = new MemoryStream();
        await MiniExcel.SaveAsAsync(
            sheet,
            new[]
            {
                new Dictionary<string, object?>
                {
                    ["Tag"] = "TW-1",
                    ["Serial"] = 1234567,
                    ["Model"] = "Sandpiper 14",
                    ["Site"] = "Tidewell",
                    ["Purchase date"] = new DateTime(2024, 9, 3),
                },
                new Dictionary<string, object?>
                {
                    ["Tag"] = null,
                    ["Serial"] = null,
                    ["Model"] = null,
                    ["Site"] = null,
                    ["Purchase date"] = null,
                },
            },
            cancellationToken: TestContext.Current.CancellationToken
        );
        var file = await Kept(book, by, "units", sheet.ToArray());
        _ = (await Take(book, by, file)).Value;
        var unit = await book.Ask(db => db.Units.SingleAsync(u => u.Tag == "TW-1"));
        (unit.Serial, unit.BoughtOn).ShouldBe(("1234567", new DateOnly(2024, 9, 3)));
    }

    [Theory]
    [InlineData("", "The file is empty")]
    [InlineData("\n\n", "no rows|first row is empty")]
    [InlineData("tag,serial\n\"TW-1,X1\nTW-2,X2", "")]
    [InlineData("\u0000\u0001\u0002 not a table", "neither a table in text")]
    public async Task What_is_no_table_is_said(string text, string reason)
    {
        await using var book = await databases.NewBook(empty: false);
        var kept = await book.Do<TakeInFile, Outcome<Guid>>(f => f.Keep("units", "x", Utf8(text), book.Lead));
        if (kept.Refusal is { } refusal)
        {
            reason
                .Split('|')
                .ShouldContain(r => refusal.Message.Contains(r, StringComparison.Ordinal), refusal.Message);
        }
        else
        {
            // Never a crash: columns are missing, which is said.
            (await Look(book, book.Lead, kept.Value)).Stopped.ShouldNotBeNull();
        }
    }

    [Fact]
    public async Task Damaged_huge_and_hostile_spreadsheets_are_refused_in_a_sentence()
    {
        await using var book = await databases.NewBook();
        (await Keep([.. "PK\u0003\u0004"u8, .. new byte[400]])).ShouldContain("damaged");
        (await Keep(Zip("word/document.xml", 100))).ShouldContain("no spreadsheet as XLSX");
        (await Keep(Zip("xl/worksheets/sheet1.xml", 80 * 1024 * 1024))).ShouldContain("unpacks to far more");
        var many = new StringBuilder("tag,serial,model\n");
        for (var i = 0; i < 200_001; i++)
        {
            many.Append("a,b,c\n");
        }

        var file = await Kept(book, book.Lead, "units", Utf8(many.ToString()));
        (await Look(book, book.Lead, file)).Stopped!.ShouldContain("more than 200,000 rows");
        (await Take(book, book.Lead, file, goodOnly: true)).Refusal!.Message.ShouldContain("Nothing of the file");

        async Task<string> Keep(byte[] content) =>
            (await book.Do<TakeInFile, Outcome<Guid>>(f => f.Keep("units", "x.xlsx", content, book.Lead)))
                .Refusal!
                .Message;

        static byte[] Zip(string entry, int length)
        {
            using var packed = new MemoryStream();
            using (var zip = new ZipArchive(packed, ZipArchiveMode.Create))
            {
                if (entry.StartsWith("xl/", StringComparison.Ordinal))
                {
                    using var book = zip.CreateEntry("xl/workbook.xml").Open();
                }

                using var stream = zip.CreateEntry(entry).Open();
                stream.Write(new byte[length]);
            }

            return packed.ToArray();
        }
    }

    [Fact]
    public async Task Everything_leaves_as_one_zip_whose_manifest_is_right_and_holds_no_secret()
    {
        await using var book = await databases.NewBook();
        using var zip = new MemoryStream();
        await book.Do<GiveOutEverything, int>(async g =>
        {
            await g.Write(zip, "0.0.0");
            return 0;
        });
        zip.Position = 0;
        using var archive = new ZipArchive(zip);
        using var manifest = System.Text.Json.JsonDocument.Parse(Read("manifest.json"));
        var files = manifest.RootElement.GetProperty("files").EnumerateArray().ToList();
        files.Count.ShouldBe(archive.Entries.Count - 1);
        foreach (var file in files)
        {
            var bytes = Read(file.GetProperty("name").GetString()!);
            Convert
                .ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes))
                .ShouldBe(file.GetProperty("sha256").GetString());
        }

        var units = await book.Ask(db => db.Units.CountAsync());
        Encoding.UTF8.GetString(Read("tables/units.jsonl")).Count(c => c == '\n').ShouldBe(units);
        var people = Encoding.UTF8.GetString(Read("tables/technicians.jsonl"));
        people.ShouldContain("mara");
        // Whatever is added to the book later: nothing leaves it that lets somebody in.
        var columns = archive
            .Entries.Where(e => e.FullName.StartsWith("tables/", StringComparison.Ordinal) && e.Length > 0)
            .SelectMany(e =>
                System
                    .Text.Json.JsonDocument.Parse(Encoding.UTF8.GetString(Read(e.FullName)).Split('\n')[0])
                    .RootElement.EnumerateObject()
                    .Select(p => $"{e.Name} {p.Name}")
            )
            .ToList();
        columns.Count.ShouldBeGreaterThan(100);
        columns.ShouldNotContain(c => System.Text.RegularExpressions.Regex.IsMatch(c, "hash|stamp$|secret|_pin|token"));
        archive.Entries.ShouldNotContain(e =>
            e.Name.StartsWith("api_tokens", StringComparison.Ordinal)
            || e.Name.StartsWith("sign_in_sessions", StringComparison.Ordinal)
        );

        byte[] Read(string name)
        {
            using var entry = archive.GetEntry(name)!.Open();
            using var all = new MemoryStream();
            entry.CopyTo(all);
            return all.ToArray();
        }
    }

    [Fact]
    public async Task A_cell_a_spreadsheet_would_run_is_written_as_text()
    {
        using var csv = new MemoryStream();
        await CsvOut.Write(
            csv,
            ["a", "b"],
            new IReadOnlyList<string?>[] { ["=1+1", "@x"], ["plain", "-3+2"] }.ToAsyncEnumerable(),
            TestContext.Current.CancellationToken
        );
        Encoding.UTF8.GetString(csv.ToArray()).ShouldBe("\uFEFFa,b\r\n\"'=1+1\",\"'@x\"\r\nplain,\"'-3+2\"\r\n");
    }
}
