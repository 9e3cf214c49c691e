from django.urls import path

from ridgeback.animal_pages import views

app_name = "animals"
urlpatterns = [
    path("animals/", views.animal_list, name="list"),
    path("animals/<int:pk>/", views.animal, name="page"),
    path("animals/<int:pk>/life-plan/", views.life_plan, name="life-plan"),
    path("animals/<int:pk>/growth/", views.growth, name="growth"),
    path("animals/<int:pk>/enclosures/", views.enclosures, name="enclosures"),
    path("animals/<int:pk>/weigh/", views.weigh, name="weigh"),
    path("animals/<int:pk>/measure/", views.measure, name="measure"),
    path(
        "animals/<int:pk>/measurements/delete/",
        views.delete_measurement,
        name="delete-measurement",
    ),
    path("animals/<int:pk>/facts/", views.facts, name="facts"),
    path("animals/<int:pk>/departure/", views.depart, name="depart"),
    path("animals/<int:pk>/approaches/", views.approaches, name="approaches"),
    path("coming-up/", views.forecast_page, name="forecast"),
]
