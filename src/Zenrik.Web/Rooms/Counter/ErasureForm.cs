using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>Reads what _Erasure.cshtml sends: lists that run alongside, one entry a piece of storage.</summary>
internal static class ErasureForm
{
    /// <returns>Pieces a method was chosen for; the others are asked for by whoever needs them.</returns>
    public static IReadOnlyList<Erased> Read(IFormCollection form)
    {
        var (slots, held, methods, silent) = (form["slots"], form["held"], form["methods"], form["silent"]);
        var (unused, absent) = (form["unused"], form["absent"]);
        return
        [
            .. slots
                .Index()
                .Where(s => s.Index < held.Count && s.Index < methods.Count)
                .Select(s =>
                    absent.Contains(s.Item)
                        ? new Erased(s.Item ?? "", DataHeld.Public, ErasureMethod.Clear, true, Absent: true)
                    : Enum.TryParse<DataHeld>(held[s.Index], out var data)
                    && Enum.TryParse<ErasureMethod>(methods[s.Index], out var method)
                    && Enum.IsDefined(data)
                    && Enum.IsDefined(method)
                        ? new Erased(s.Item ?? "", data, method, !silent.Contains(s.Item), !unused.Contains(s.Item))
                    : null
                )
                .OfType<Erased>(),
        ];
    }
}
