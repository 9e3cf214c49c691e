from django.urls import path

from ridgeback.eggs import views

app_name = "eggs"
urlpatterns = [
    path("eggs/", views.eggs, name="eggs"),
    path("eggs/<int:pk>/", views.clutch, name="clutch"),
    path("eggs/<int:pk>/look/", views.look, name="look"),
    path("eggs/<int:pk>/hatch/", views.hatch, name="hatch"),
    path("eggs/<int:pk>/end/", views.end, name="end"),
]
