using System.Globalization;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.Rendering;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;

namespace Zenrik.Web.Hosting;

/// <summary>How figures, days and names are written on every page.</summary>
public static class Show
{
    /// <summary>The program's version, as CHANGELOG.md lists it: "0.3.0".</summary>
    public static string Version { get; } = typeof(Show).Assembly.GetName().Version!.ToString(3);

    /// <summary>"coin cell": the name of an enum member as words.</summary>
    public static string Words(Enum value) =>
        string.Concat(
            value
                .ToString()
                .Select(
                    (c, i) => i > 0 && char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : $"{char.ToLowerInvariant(c)}"
                )
        );

    /// <summary>"41.2".</summary>
    public static string Tenth(double value) =>
        value.ToString("0.0", System.Globalization.CultureInfo.InvariantCulture);

    private static readonly CultureInfo C = CultureInfo.InvariantCulture;

    /// <summary>"Tue 8 Sep".</summary>
    public static string Day(DateOnly day) => day.ToString("ddd d MMM", C);

    /// <summary>"2026-09-08", as forms and files write it.</summary>
    public static string Iso(DateOnly day) => day.ToString("yyyy-MM-dd", C);

    /// <summary>"8 Sep 2026".</summary>
    public static string Date(DateTimeOffset at) => at.ToLocalTime().ToString("d MMM yyyy", C);

    public static string Date(DateOnly day) => day.ToString("d MMM yyyy", C);

    /// <summary>"8 Sep 2026, 14:05".</summary>
    public static string Moment(DateTimeOffset at) => at.ToLocalTime().ToString("d MMM yyyy, HH:mm", C);

    public static string Whole(double value) => value.ToString("0", C);

    /// <summary>"58 (49–70)".</summary>
    public static string Range(Minutes m) => $"{Whole(m.Low)}–{Whole(m.High)}";

    /// <summary>A coordinate of the drawing.</summary>
    public static string Mm(double value) => value.ToString("0.##", C);

    /// <summary>"62 %"; below one in two hundred "under 1 %".</summary>
    public static string Percent(double share) =>
        share is > 0 and < 0.005 ? "under 1 %" : $"{(share * 100).ToString("0", C)} %";

    /// <summary>"18.4": of a thousand.</summary>
    public static string Share(double share) => (share * 1000).ToString("0.0", C);

    /// <summary>"121.20": money without its currency.</summary>
    public static string Amount(decimal amount) => amount.ToString("0.00", C);

    /// <summary>"3 minutes"; a remedy's may be its price as well, counted as work.</summary>
    public static string Minutes(TriageAct act) =>
        act.Minutes < 1 ? "half a minute"
        : act.IsTest ? Count((int)Math.Round(act.Minutes), "minute")
        : $"costs as much as {Count((int)Math.Round(act.Minutes), "minute")} of work";

    /// <summary>Why something moved: "as built", "set apart".</summary>
    public static string Reason(MovementReason reason) =>
        reason switch
        {
            MovementReason.AsBuilt => "as built",
            MovementReason.UsedUp => "used up",
            MovementReason.Issued => "handed out",
            MovementReason.SetApart => "set apart",
            MovementReason.Released => "found good",
            MovementReason.Stripped => "out of a donor",
            MovementReason.Reported => "passport put right",
            MovementReason.PutRight => "takes back",
            _ => reason.ToString().ToLowerInvariant(),
        };

    /// <summary>"one screw", "four screws".</summary>
    public static string Count(int n, string thing) => Count(n, thing, $"{thing}s");

    /// <summary>"two people".</summary>
    public static string Count(int n, string thing, string things) => $"{n.ToString(C)} {(n == 1 ? thing : things)}";

    /// <summary>"2.4 GB".</summary>
    public static string Bytes(long bytes) =>
        bytes switch
        {
            >= 1L << 30 => FormattableString.Invariant($"{bytes / (double)(1L << 30):0.0}\u00a0GB"),
            >= 1L << 20 => FormattableString.Invariant($"{bytes / (double)(1L << 20):0.0}\u00a0MB"),
            _ => FormattableString.Invariant($"{bytes / 1024.0:0}\u00a0kB"),
        };

    /// <summary>The room a page lies in, "bench": its styles and its script bear this name. Empty for what lies in none.</summary>
    public static string RoomOf(ViewContext context) =>
        (context.ActionDescriptor as PageActionDescriptor)?.RelativePath.Split('/') is [_, _, var room, _, ..]
            ? room.ToLowerInvariant()
            : "";

    /// <summary>A promise against today: "today", "Thu 10 Sep", "Mon 7 Sep, late 1 day".</summary>
    public static (string Text, bool Late) Promise(DateOnly? day, DateOnly today) =>
        day is not { } promised ? ("—", false)
        : promised == today ? ("today", false)
        : promised > today ? (Day(promised), false)
        : ($"{Day(promised)}, late {Count(today.DayNumber - promised.DayNumber, "day")}", true);
}
