using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Exporting;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Importing;
using Zenrik.Workshop.Mailing;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Operating;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Photographs;
using Zenrik.Workshop.Practice;
using Zenrik.Workshop.Preparing;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Scheduling;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;
using Zenrik.Workshop.Triage;

namespace Zenrik.Workshop;

/// <summary>Everything a host needs to offer the use cases.</summary>
public static class WorkshopServices
{
    public static IServiceCollection AddWorkshop(this IServiceCollection services, string connection)
    {
        services.AddDbContextPool<WorkshopDb>(options => WorkshopDb.Configure(options, connection));
        services.AddMemoryCache();
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton(p => ThisInstance.Of(p.GetRequiredService<TimeProvider>().GetUtcNow()));
        // Keys in the database: every instance reads the cookies of every other.
        services.AddDataProtection().SetApplicationName("Zenrik").PersistKeysToDbContext<WorkshopDb>();
        services
            .AddIdentityCore<Technician>(options =>
            {
                // PasswordRule says what a password must be.
                options.Password.RequiredLength = 1;
                options.Password.RequireDigit = false;
                options.Password.RequireLowercase = false;
                options.Password.RequireUppercase = false;
                options.Password.RequireNonAlphanumeric = false;
            })
            .AddRoles<IdentityRole<Guid>>()
            .AddPasswordValidator<PasswordRule>()
            .AddTokenProvider<DataProtectorTokenProvider<Technician>>(KeepPeople.InvitationProvider)
            .AddEntityFrameworkStores<WorkshopDb>();

        services.Configure<DataProtectionTokenProviderOptions>(o => o.TokenLifespan = KeepPeople.InvitationLasts);

        services.AddScoped<ServiceMapShelf>();
        services.AddScoped<ViewMaps>();
        services.AddScoped<KeepModel>();
        services.AddScoped<KeepModelPhoto>();
        services.AddScoped<MergeModels>();
        services.AddScoped<ShareMap>();
        services.AddScoped<ViewDraft>();
        services.AddScoped<SayOfModel>();
        services.AddScoped<AskAtBench>();
        services.AddScoped<PublishMap>();
        services.AddScoped<HouseRulesOf>();
        services.AddScoped<SetHouseRule>();
        services.AddScoped<LearnedTimes>();
        services.TryAddSingleton(new PlanningTime(TimeSpan.FromSeconds(2)));
        services.TryAddSingleton<Post, NoPost>();
        services.AddScoped<PlanFor>();
        services.AddScoped<ApiTokens>();
        services.AddScoped<WrongTries>();
        services.AddScoped<KeepPeople>();
        services.AddScoped<SignInSessions>();
        services.AddScoped<Badges>();
        services.AddScoped<OutsidePeople>();
        services.AddScoped<ListAudit>();
        services.AddScoped<PassportOf>();
        services.AddScoped<ListUnits>();
        services.AddScoped<WallOf>();
        services.AddScoped<HistoryOf>();
        services.AddScoped<ChangeUnits>();
        services.AddScoped<KeepCampaigns>();
        services.AddScoped<LendUnit>();
        services.AddScoped<LoseUnit>();
        services.AddScoped<RegisterUnits>();
        services.AddScoped<CorrectPassport>();
        services.AddScoped<HearUnit>();
        services.AddScoped<DecideQuestion>();
        services.AddScoped<ResolveCode>();
        services.AddScoped<ViewStock>();
        services.AddScoped<ViewBin>();
        services.AddScoped<ProveStock>();
        services.AddScoped<MoveItem>();
        services.AddScoped<IssueItem>();
        services.AddScoped<StripDonor>();
        services.AddScoped<AskForStrip>();
        services.AddScoped<CountBin>();
        services.AddScoped<TakeBackMovement>();
        services.AddScoped<SetLevel>();
        services.AddScoped<AddBin>();
        services.AddSingleton<KeptFigures>();
        services.AddScoped<Figures>();
        services.AddScoped<FleetBatteries>();
        services.AddScoped<FleetLives>();
        services.AddScoped<ExpectedDemand>();
        services.AddScoped<YearAhead>();
        services.AddScoped<PlanHarvest>();
        services.AddScoped<ViewFrontier>();
        services.AddScoped<PlanLastOrder>();
        services.AddScoped<ViewCalendar>();
        services.AddScoped<PlanWaves>();
        services.AddScoped<KeepHours>();
        services.AddScoped<PinJob>();
        services.AddScoped<LearnedFaults>();
        services.AddScoped<TriageOf>();
        services.AddScoped<KitForSite>();
        services.AddScoped<AnswerTriage>();
        services.AddScoped<EndTriage>();
        services.AddScoped<KnownNumbers>();
        services.AddScoped<AddNumber>();
        services.AddScoped<DescribeNumber>();
        services.AddScoped<TakeInFile>();
        services.AddScoped<GiveOutLists>();
        services.AddScoped<GiveOutOne>();
        services.AddScoped<DueDays>();
        services.AddScoped<BenchFeed>();
        services.AddScoped<MonthReport>();
        services.AddScoped<SavedViews>();
        services.AddScoped<GiveOutEverything>();
        services.AddScoped<CorrectUnit>();
        services.AddScoped<LabelsFor>();
        services.AddScoped<FitOf>();
        services.AddScoped<WhatToFit>();
        services.AddScoped<NoteLook>();
        services.AddScoped<SignWaiver>();
        services
            .AddHttpClient<SupplierClient>(http =>
            {
                http.Timeout = TimeSpan.FromSeconds(4);
                http.MaxResponseContentBufferSize = SupplierClient.MaxBytes;
            })
            // Where a supplier sends us on to is not for it to say.
            .ConfigurePrimaryHttpMessageHandler(() => new SocketsHttpHandler { AllowAutoRedirect = false });
        services.AddScoped<OffersFor>();
        services.AddScoped<ShipmentFor>();
        services.AddScoped<PlaceOrder>();
        services.AddScoped<ReceiveOrder>();
        services.AddScoped<ViewOrders>();
        services.AddScoped<EraseName>();
        services.AddScoped<WantedLines>();
        services.AddScoped<ProposeOrders>();
        services.AddScoped<OrderShipment>();
        services.AddScoped<SetFigures>();
        services.AddScoped<SetDaysOff>();
        services.AddScoped<KeepSuppliers>();
        services.AddScoped<DecideFor>();
        services.AddScoped<WhileItIsOpen>();
        services.AddScoped<RecordDecision>();
        services.AddScoped<RetireUnit>();
        services.AddScoped<EndDonor>();
        services.AddScoped<RepairLines>();
        services.AddScoped<ChooseAssembly>();
        services.AddScoped<ReleaseStopped>();
        services.AddScoped<AddPhoto>();
        services.AddScoped<ReadPhoto>();
        services.AddScoped<OpenRepair>();
        services.AddScoped<TakeInBox>();
        services.AddScoped<UnderWarranty>();
        services.AddScoped<RepairOf>();
        services.AddScoped<ChooseItem>();
        services.AddScoped<WithdrawRepair>();
        services.AddScoped<NoteRepair>();
        services.AddScoped<CorrectRepair>();
        services.AddScoped<ReopenRepair>();
        services.AddScoped<EndCheckUp>();
        services.AddScoped<BringOwn>();
        services.AddScoped<CloseRepair>();
        services.AddScoped<ViewCounter>();
        services.AddScoped<ListHistory>();
        services.AddScoped<BenchOf>();
        services.AddScoped<KeptBenches>();
        services.AddScoped<PromiseConsumables>();
        services.AddScoped<PromiseAnother>();
        services.AddScoped<AwaitAnother>();
        services.AddScoped<ExchangeBesides>();
        services.AddScoped<StartSession>();
        services.AddScoped<RecordOf>();
        services.AddScoped<ChangePlan>();
        services.AddScoped<StopAtBench>();
        services.AddScoped<NoteOrder>();
        services.AddScoped<PlaceAtBench>();
        services.AddScoped<DecideFinding>();
        services.AddScoped<PutRight>();
        services.AddSingleton<BenchNews>();
        services.AddScoped<RecordEntry>();
        services.AddScoped<ReadLabel>();
        services.AddScoped<OrderBeforeSure>();
        services.AddScoped<PracticeOf>();
        services.AddScoped<ReadyFor>();
        services.AddScoped<ViewRunning>();
        services.AddScoped<SayServing>();
        services.AddScoped<DoChores>();
        services.AddScoped<KnowTables>();
        services.AddScoped<StartPractice>();
        services.AddScoped<AskQuestions>();
        services.AddScoped<ViewPractice>();
        services.AddScoped<MakeMove>();
        services.AddScoped<PrepareDatabase>();
        services.AddScoped<ViewBeginning>();
        return services;
    }
}
