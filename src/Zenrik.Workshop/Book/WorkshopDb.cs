using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Core.People;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>The workshop's book in PostgreSQL. Also keeps sign-ins and the keys that protect cookies.</summary>
public sealed class WorkshopDb(DbContextOptions<WorkshopDb> options)
    : IdentityDbContext<Technician, IdentityRole<Guid>, Guid>(options),
        IDataProtectionKeyContext
{
    public DbSet<Model> Models => Set<Model>();

    public DbSet<ServiceMapRevision> ServiceMapRevisions => Set<ServiceMapRevision>();

    public DbSet<DraftStep> DraftSteps => Set<DraftStep>();

    public DbSet<Unit> Units => Set<Unit>();

    public DbSet<CatalogueNumber> CatalogueNumbers => Set<CatalogueNumber>();

    public DbSet<CatalogueFit> CatalogueFits => Set<CatalogueFit>();

    public DbSet<Bin> Bins => Set<Bin>();

    public DbSet<Item> Items => Set<Item>();

    public DbSet<Lot> Lots => Set<Lot>();

    public DbSet<MovementRecord> Movements => Set<MovementRecord>();

    public DbSet<Reservation> Reservations => Set<Reservation>();

    public DbSet<Repair> Repairs => Set<Repair>();

    public DbSet<RepairLine> RepairLines => Set<RepairLine>();

    public DbSet<RepairPhoto> RepairPhotos => Set<RepairPhoto>();

    public DbSet<ModelPhoto> ModelPhotos => Set<ModelPhoto>();

    public DbSet<FollowUp> FollowUps => Set<FollowUp>();

    public DbSet<MapFinding> MapFindings => Set<MapFinding>();

    public DbSet<TriageStepRecord> TriageSteps => Set<TriageStepRecord>();

    public DbSet<LearnedReset> LearnedResets => Set<LearnedReset>();

    public DbSet<UnitEvent> UnitEvents => Set<UnitEvent>();

    public DbSet<Loan> Loans => Set<Loan>();

    public DbSet<Campaign> Campaigns => Set<Campaign>();

    public DbSet<CampaignMark> CampaignMarks => Set<CampaignMark>();

    public DbSet<BatteryRecord> BatteryReadings => Set<BatteryRecord>();

    public DbSet<UnitQuestion> UnitQuestions => Set<UnitQuestion>();

    public DbSet<BenchHours> BenchHours => Set<BenchHours>();

    public DbSet<LeftWork> LeftWork => Set<LeftWork>();

    public DbSet<Absence> Absences => Set<Absence>();

    public DbSet<BenchPin> BenchPins => Set<BenchPin>();

    public DbSet<StripJob> StripJobs => Set<StripJob>();

    public DbSet<SolvedWork> SolvedWork => Set<SolvedWork>();

    public DbSet<Stocktake> Stocktakes => Set<Stocktake>();

    public DbSet<AuditLine> AuditLines => Set<AuditLine>();

    public DbSet<DoneRequest> DoneRequests => Set<DoneRequest>();

    public DbSet<UnitLook> UnitLooks => Set<UnitLook>();

    public DbSet<FitTally> FitTallies => Set<FitTally>();

    public DbSet<Waiver> Waivers => Set<Waiver>();

    public DbSet<Supplier> Suppliers => Set<Supplier>();

    public DbSet<CarrierCalendar> CarrierCalendars => Set<CarrierCalendar>();

    public DbSet<StoredOffer> StoredOffers => Set<StoredOffer>();

    public DbSet<PartOrder> PartOrders => Set<PartOrder>();

    public DbSet<HouseFigures> HouseFigures => Set<HouseFigures>();

    public DbSet<ErasureRecord> Erasures => Set<ErasureRecord>();

    public DbSet<BenchSession> BenchSessions => Set<BenchSession>();

    public DbSet<BenchEntry> BenchEntries => Set<BenchEntry>();

    public DbSet<PracticeRun> PracticeRuns => Set<PracticeRun>();

    public DbSet<PracticeMove> PracticeMoves => Set<PracticeMove>();

    public DbSet<PracticeTopic> PracticeTopics => Set<PracticeTopic>();

    public DbSet<Instance> Instances => Set<Instance>();

    public DbSet<Mishap> Mishaps => Set<Mishap>();

    public DbSet<Chore> Chores => Set<Chore>();

    public DbSet<HouseChoice> HouseChoices => Set<HouseChoice>();

    public DbSet<ApiToken> ApiTokens => Set<ApiToken>();

    public DbSet<SavedView> SavedViews => Set<SavedView>();

    public DbSet<WrongTry> WrongTries => Set<WrongTry>();

    public DbSet<SignInSession> SignInSessions => Set<SignInSession>();

    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();

    /// <summary>Once read; null again when a write begins, or when this context goes back to its pool.</summary>
    internal Standing? Standing { get; set; }

    public override void Dispose()
    {
        Standing = null;
        base.Dispose();
    }

    public override ValueTask DisposeAsync()
    {
        Standing = null;
        return base.DisposeAsync();
    }

    private const int LeastConnections = 16;
    private const int ConnectionsPerProcessor = 6;

    private static readonly DropAfterBindError BindErrors = new();

    /// <summary>Options every host and test uses, so that names and conventions agree.</summary>
    public static DbContextOptionsBuilder Configure(DbContextOptionsBuilder builder, string connection) =>
        builder.UseNpgsql(Settled(connection)).UseSnakeCaseNamingConvention().AddInterceptors(BindErrors);

    /// <summary>A connection string with what the program wants of a connection, where it does not say otherwise itself.</summary>
    internal static string Settled(string connection)
    {
        var settings = new NpgsqlConnectionStringBuilder(connection);
        // What is asked again and again is planned once a connection. A connection string may say otherwise, as it must
        // where a pooler stands between that does not keep prepared statements.
        if (!connection.Contains("Auto Prepare", StringComparison.OrdinalIgnoreCase))
        {
            // More than all pages have: what falls out is planned anew.
            settings.MaxAutoPrepare = 300;
            settings.AutoPrepareMinUsages = 3;
        }

        // Few, so that each has planned what is asked: beyond what the processors can do at once, another connection only
        // makes every one of them slower (docs/performance.md).
        if (!connection.Contains("Pool Size", StringComparison.OrdinalIgnoreCase))
        {
            settings.MaxPoolSize = Math.Max(LeastConnections, ConnectionsPerProcessor * Environment.ProcessorCount);
        }

        // Nothing here changes a session's settings, so a connection comes back from the pool as it went in.
        settings.NoResetOnClose = true;

        return settings.ConnectionString;
    }

    /// <summary>What the running write has changed so far; null while none runs. A context that comes from the pool has none.</summary>
    private List<AuditedChange>? noted;

    internal List<AuditedChange> BeginNoting() => noted = [];

    internal void EndNoting() => noted = null;

    /// <summary>Takes down what the next save will change.</summary>
    internal void Note()
    {
        if (noted is not null)
        {
            ChangeTracker.DetectChanges();
            noted.AddRange(Noting.Pending(ChangeTracker));
        }
    }

    internal void Note(AuditedChange change) => noted?.Add(change);

    public override Task<int> SaveChangesAsync(
        bool acceptAllChangesOnSuccess,
        CancellationToken cancellationToken = default
    )
    {
        Note();
        return base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
    }

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        configurationBuilder.Properties<UnitId>().HaveConversion<UnitIdConverter>();
        configurationBuilder.Properties<ItemId>().HaveConversion<ItemIdConverter>();
        configurationBuilder.Properties<BinId>().HaveConversion<BinIdConverter>();
        configurationBuilder.Properties<RepairId>().HaveConversion<RepairIdConverter>();
        // Enumerations are stored by name: a row read with psql explains itself.
        configurationBuilder.Properties<Enum>().HaveConversion<string>().HaveMaxLength(24);
    }

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.HasPostgresExtension("pg_trgm");
        builder.HasSequence<long>("repair_numbers").StartsAt(1001);
        builder.HasSequence<long>("item_codes").StartsAt(1);
        builder.ApplyConfigurationsFromAssembly(typeof(WorkshopDb).Assembly);

        // Identity names its tables itself; here they follow the others.
        builder.Entity<Technician>().ToTable("technicians").Property(t => t.Name).HasMaxLength(PersonName.MaxLength);
        builder.Entity<Technician>().HasIndex(t => t.BadgeHash).IsUnique();
        builder.Entity<IdentityRole<Guid>>().ToTable("roles");
        builder.Entity<IdentityUserRole<Guid>>().ToTable("technician_roles");
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("technician_claims");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("technician_logins");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("technician_tokens");
        builder.Entity<IdentityRoleClaim<Guid>>().ToTable("role_claims");
    }
}
