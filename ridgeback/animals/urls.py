from django.urls import path

from ridgeback.animals import views

app_name = "animals"
urlpatterns = [
    path("animals/", views.animal_list, name="list"),
    path("animals/<int:pk>/", views.animal, name="page"),
    path("animals/<int:pk>/path/", views.path, name="path"),
    path("animals/<int:pk>/weigh/", views.weigh, name="weigh"),
    path("animals/<int:pk>/measure/", views.measure, name="measure"),
    path("animals/<int:pk>/forget/", views.forget, name="forget"),
    path("animals/<int:pk>/facts/", views.facts, name="facts"),
    path("animals/<int:pk>/gone/", views.depart, name="depart"),
    path("animals/<int:pk>/schools/", views.schools, name="schools"),
    path("outlook/", views.outlook_page, name="outlook"),
]
