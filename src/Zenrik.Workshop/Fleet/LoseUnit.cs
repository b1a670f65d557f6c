using Zenrik.Core;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Fleet;

/// <summary>Says that a unit is lost or stolen, a loan unit too, and that it has been found again.</summary>
public sealed class LoseUnit(WorkshopDb db, TimeProvider clock)
{
    /// <param name="how">What is known of it: "left on the ferry, reported to the police as 417".</param>
    public Task<Outcome<string>> Lost(
        Guid request,
        string tag,
        string? how,
        Actor by,
        CancellationToken stop = default
    ) => Step(request, tag, how, UnitState.Lost, "Lost or stolen", by, stop);

    /// <summary>It has turned up and serves again.</summary>
    public Task<Outcome<string>> Found(
        Guid request,
        string tag,
        string? how,
        Actor by,
        CancellationToken stop = default
    ) => Step(request, tag, how, UnitState.InUse, "Found again", by, stop);

    private Task<Outcome<string>> Step(
        Guid request,
        string tag,
        string? how,
        UnitState to,
        string what,
        Actor by,
        CancellationToken stop
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{to} {tag}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            var said = how?.Trim() ?? "";
            if (said.Length is < 3 or > 160 || said.Any(char.IsControl))
            {
                return new Refusal(RefusalReason.Invalid, "Say in 3 to 160 characters what is known of it.");
            }

            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            if (to == UnitState.InUse && unit.State != UnitState.Lost)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{unit.Tag} is {UnitLife.Name(unit.State)}; it is not lost."
                );
            }

            return await db.Step(unit.Id, to, $"{what}: {said}", new Occasion(by, now), stop) is { } refusal
                ? refusal
                : $"{unit.Tag} is {UnitLife.Name(to)}.";
        }
    }
}
