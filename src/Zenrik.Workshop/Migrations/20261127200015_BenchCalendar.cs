using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class BenchCalendar : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "absences",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    technician_id = table.Column<Guid>(type: "uuid", nullable: false),
                    from = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    until = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    from_calendar = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_absences", x => x.id);
                    table.CheckConstraint("ck_absences_forward", "\"until\" > \"from\"");
                    table.ForeignKey(
                        name: "fk_absences_users_technician_id",
                        column: x => x.technician_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "bench_hours",
                columns: table => new
                {
                    technician_id = table.Column<Guid>(type: "uuid", nullable: false),
                    days = table.Column<string[]>(type: "text[]", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bench_hours", x => x.technician_id);
                    table.CheckConstraint("ck_bench_hours_week", "cardinality(days) = 7");
                    table.ForeignKey(
                        name: "fk_bench_hours_asp_net_users_technician_id",
                        column: x => x.technician_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "bench_pins",
                columns: table => new
                {
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    rank = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bench_pins", x => x.repair_id);
                    table.ForeignKey(
                        name: "fk_bench_pins_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "solved_work",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    of = table.Column<byte[]>(type: "bytea", nullable: false),
                    orders = table.Column<string>(type: "jsonb", nullable: false),
                    bound = table.Column<long>(type: "bigint", nullable: false),
                    late = table.Column<long>(type: "bigint", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_solved_work", x => x.id);
                    table.CheckConstraint("ck_solved_work_one", "id = 1");
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_absences_technician_id_until",
                table: "absences",
                columns: new[] { "technician_id", "until" }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "absences");

            migrationBuilder.DropTable(name: "bench_hours");

            migrationBuilder.DropTable(name: "bench_pins");

            migrationBuilder.DropTable(name: "solved_work");
        }
    }
}
