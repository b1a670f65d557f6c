using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.MapMaking;

/// <summary>What the house says of a model.</summary>
/// <param name="Class">Null: not chosen yet.</param>
/// <param name="SupportEnds">When updates for it end; null: not known.</param>
/// <param name="LifeMonths">Months the house uses such units.</param>
/// <param name="NewPrice">What one that takes its place costs, in the workshop's currency; null: not known.</param>
/// <param name="WarrantyMonths">Months of the maker's warranty; null: not known.</param>
/// <param name="Retired">True when none is bought any more.</param>
public sealed record ModelFacts(
    string? Maker,
    string? Name,
    DeviceClass? Class,
    DateOnly? SupportEnds,
    int? LifeMonths,
    decimal? NewPrice,
    int? WarrantyMonths = null,
    bool Retired = false
);

/// <summary>Enters models the organisation owns units of, and corrects what is said of them.</summary>
public sealed class KeepModel(WorkshopDb db, TimeProvider clock)
{
    /// <returns>The model's code. A model of the same maker and name is that one, and stays as it is.</returns>
    public Task<Outcome<string>> Add(ModelFacts facts, Actor by, CancellationToken stop = default) =>
        db.Write(by, facts.Name ?? "", clock.GetUtcNow(), () => AddIn(facts, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<string>> AddIn(ModelFacts facts, CancellationToken stop)
    {
        if (!Read(facts).Try(out var read, out var refusal))
        {
            return refusal;
        }

        await db.LockModels(stop);
        if (await Same(read, stop) is { } known)
        {
            return known.MergedInto ?? known.Code;
        }

        var taken = await db.Models.Select(m => m.Code).ToListAsync(stop);
        var model = new Model
        {
            Code = ModelCode.For(read.Name, taken),
            Name = read.Name,
            Maker = read.Maker,
            Class = read.Class,
        };
        Say(model, facts);
        db.Models.Add(model);
        return model.Code;
    }

    /// <returns>What was changed, as a sentence.</returns>
    public Task<Outcome<string>> Change(string code, ModelFacts facts, Actor by, CancellationToken stop = default) =>
        db.Write(by, code, clock.GetUtcNow(), () => ChangeIn(code, facts, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<string>> ChangeIn(string code, ModelFacts facts, CancellationToken stop)
    {
        if (await db.LockModel(code, stop) is not { } model)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no model “{code}”.");
        }

        if (!Read(facts).Try(out var read, out var refusal))
        {
            return refusal;
        }

        if (await Same(read, stop) is { } other && other.Code != code)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"There is a {read.Maker} {read.Name} already. One machine has one entry; nothing was changed."
            );
        }

        if (read.Class != model.Class && await db.IsPublished(code, stop))
        {
            return new Refusal(
                RefusalReason.Conflict,
                "Its published map says what kind of machine it is. Import a map that says otherwise."
            );
        }

        (model.Name, model.Maker, model.Class) = (read.Name, read.Maker, read.Class);
        Say(model, facts);
        return $"The {model.Name} is kept as you said.";
    }

    private static void Say(Model model, ModelFacts facts)
    {
        model.SupportEnds = facts.SupportEnds;
        model.LifeMonths = facts.LifeMonths ?? model.LifeMonths;
        model.NewPrice = facts.NewPrice ?? model.NewPrice;
        model.WarrantyMonths = facts.WarrantyMonths;
        model.IsRetired = facts.Retired;
    }

    private Task<Model?> Same((string Maker, string Name, DeviceClass Class) read, CancellationToken stop)
    {
        var (maker, name) = (Patterns.Exactly(read.Maker), Patterns.Exactly(read.Name));
        return db.Models.FirstOrDefaultAsync(
            m => EF.Functions.ILike(m.Maker, maker) && EF.Functions.ILike(m.Name, name),
            stop
        );
    }

    private static Outcome<(string Maker, string Name, DeviceClass Class)> Read(ModelFacts facts)
    {
        if (!ModelName.Read(facts.Maker, "The maker").Try(out var maker, out var refusal))
        {
            return refusal;
        }

        if (!ModelName.Read(facts.Name, "The model's name").Try(out var name, out refusal))
        {
            return refusal;
        }

        return facts.Class is not { } kind || !Enum.IsDefined(kind)
                ? new Refusal(RefusalReason.Invalid, "Say whether it is a laptop or a Chromebook.")
            : facts.LifeMonths is < 6 or > 240
                ? new Refusal(RefusalReason.Invalid, "A machine is used from 6 to 240 months.")
            : facts.WarrantyMonths is < 1 or > 120
                ? new Refusal(RefusalReason.Invalid, "A maker's warranty lasts from 1 to 120 months.")
            : facts.NewPrice is < 0 or > 100_000
                ? new Refusal(RefusalReason.Invalid, "The price of a new one is between 0 and 100,000.")
            : (maker, name, kind);
    }
}
