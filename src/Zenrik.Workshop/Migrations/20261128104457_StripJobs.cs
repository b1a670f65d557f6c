using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class StripJobs : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "strip_jobs",
                columns: table => new
                {
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    slots = table.Column<string[]>(type: "text[]", nullable: false),
                    @for = table.Column<long[]>(name: "for", type: "bigint[]", nullable: false),
                    asked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    minutes_expected = table.Column<double>(type: "double precision", nullable: false),
                    minutes_high = table.Column<double>(type: "double precision", nullable: false),
                    minutes_low = table.Column<double>(type: "double precision", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_strip_jobs", x => x.unit_id);
                    table.CheckConstraint("ck_strip_jobs_something", "cardinality(slots) > 0");
                    table.ForeignKey(
                        name: "fk_strip_jobs_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "strip_jobs");
        }
    }
}
