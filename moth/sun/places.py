"""Places that a production may be at; coordinates to a hundredth of a degree, a kilometre."""

from dataclasses import dataclass


@dataclass(frozen=True)
class PlaceOnEarth:
    """A place."""

    name: str
    latitude: float
    """North + [deg]."""
    longitude: float
    """East + [deg]."""
    zone: str
    """Of the IANA time zone database."""


PLACES = tuple(
    PlaceOnEarth(*row)
    for row in (
        ("Saltmarsh (made up)", 53.10, 0.35, "Europe/London"),
        ("Accra", 5.56, -0.20, "Africa/Accra"),
        ("Amsterdam", 52.37, 4.90, "Europe/Amsterdam"),
        ("Anchorage", 61.22, -149.90, "America/Anchorage"),
        ("Athens", 37.98, 23.73, "Europe/Athens"),
        ("Auckland", -36.85, 174.76, "Pacific/Auckland"),
        ("Bangkok", 13.76, 100.50, "Asia/Bangkok"),
        ("Barcelona", 41.39, 2.17, "Europe/Madrid"),
        ("Beijing", 39.90, 116.41, "Asia/Shanghai"),
        ("Berlin", 52.52, 13.41, "Europe/Berlin"),
        ("Bogotá", 4.71, -74.07, "America/Bogota"),
        ("Buenos Aires", -34.60, -58.38, "America/Argentina/Buenos_Aires"),
        ("Cairo", 30.04, 31.24, "Africa/Cairo"),
        ("Cape Town", -33.92, 18.42, "Africa/Johannesburg"),
        ("Chicago", 41.88, -87.63, "America/Chicago"),
        ("Copenhagen", 55.68, 12.57, "Europe/Copenhagen"),
        ("Delhi", 28.61, 77.21, "Asia/Kolkata"),
        ("Dublin", 53.35, -6.26, "Europe/Dublin"),
        ("Edinburgh", 55.95, -3.19, "Europe/London"),
        ("Helsinki", 60.17, 24.94, "Europe/Helsinki"),
        ("Hong Kong", 22.32, 114.17, "Asia/Hong_Kong"),
        ("Honolulu", 21.31, -157.86, "Pacific/Honolulu"),
        ("Istanbul", 41.01, 28.98, "Europe/Istanbul"),
        ("Jakarta", -6.21, 106.85, "Asia/Jakarta"),
        ("Johannesburg", -26.20, 28.05, "Africa/Johannesburg"),
        ("Kyiv", 50.45, 30.52, "Europe/Kyiv"),
        ("Lagos", 6.52, 3.38, "Africa/Lagos"),
        ("Lima", -12.05, -77.04, "America/Lima"),
        ("Lisbon", 38.72, -9.14, "Europe/Lisbon"),
        ("London", 51.51, -0.13, "Europe/London"),
        ("Los Angeles", 34.05, -118.24, "America/Los_Angeles"),
        ("Madrid", 40.42, -3.70, "Europe/Madrid"),
        ("Manila", 14.60, 120.98, "Asia/Manila"),
        ("Melbourne", -37.81, 144.96, "Australia/Melbourne"),
        ("Mexico City", 19.43, -99.13, "America/Mexico_City"),
        ("Montréal", 45.50, -73.57, "America/Toronto"),
        ("Mumbai", 19.08, 72.88, "Asia/Kolkata"),
        ("Nairobi", -1.29, 36.82, "Africa/Nairobi"),
        ("New York", 40.71, -74.01, "America/New_York"),
        ("Oslo", 59.91, 10.75, "Europe/Oslo"),
        ("Paris", 48.86, 2.35, "Europe/Paris"),
        ("Perth", -31.95, 115.86, "Australia/Perth"),
        ("Prague", 50.08, 14.44, "Europe/Prague"),
        ("Reykjavík", 64.15, -21.94, "Atlantic/Reykjavik"),
        ("Rio de Janeiro", -22.91, -43.17, "America/Sao_Paulo"),
        ("Rome", 41.90, 12.50, "Europe/Rome"),
        ("Santiago", -33.45, -70.67, "America/Santiago"),
        ("São Paulo", -23.55, -46.63, "America/Sao_Paulo"),
        ("Seoul", 37.57, 126.98, "Asia/Seoul"),
        ("Singapore", 1.35, 103.82, "Asia/Singapore"),
        ("Stockholm", 59.33, 18.07, "Europe/Stockholm"),
        ("Sydney", -33.87, 151.21, "Australia/Sydney"),
        ("Tokyo", 35.68, 139.69, "Asia/Tokyo"),
        ("Toronto", 43.65, -79.38, "America/Toronto"),
        ("Tromsø", 69.65, 18.96, "Europe/Oslo"),
        ("Vancouver", 49.28, -123.12, "America/Vancouver"),
        ("Vienna", 48.21, 16.37, "Europe/Vienna"),
        ("Warsaw", 52.23, 21.01, "Europe/Warsaw"),
        ("Wellington", -41.29, 174.78, "Pacific/Auckland"),
        ("Zürich", 47.38, 8.54, "Europe/Zurich"),
    )
)
